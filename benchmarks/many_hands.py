"""Many people at once on one queue: ``python -m benchmarks.many_hands [people] [documents] [seconds between edits]``.

Each opens what waits longest, enters values, and says that it is done, over HTTP as the pages do it, while the workers
have nothing to do. Counted are edits that were acknowledged and are not there, or that somebody else wrote over.
"""

from __future__ import annotations

import random
import re
import statistics
import sys
import threading
import time
from collections import Counter
from dataclasses import dataclass, field

import httpx
from sqlmodel import select

from benchmarks.bad_days import copies
from benchmarks.server import data_folder, server
from zestpail.desk.documents.context import amend, lane_of_key
from zestpail.desk.lanes.first_lane import KEY, set_up_first_lane
from zestpail.desk.people import people
from zestpail.runtime import supervisor
from zestpail.settings import Settings
from zestpail.store import Store, open_store
from zestpail.store.states import DocumentState
from zestpail.store.tables import Document, FieldValue
from zestpail.store.trail_tables import Event

PASSWORD = "quillon-at-work"
FIELDS = ("order_reference", "seller_name", "buyer_name")
MOST_REFUSED = 20
VERSION = re.compile(r'data-version="(\d+)"')


@dataclass
class Told:
    """What was acknowledged, and how long it took (s)."""

    edits: dict[tuple[int, str], str] = field(default_factory=dict)
    done: list[int] = field(default_factory=list)
    times: list[float] = field(default_factory=list)
    refused: Counter[int] = field(default_factory=Counter)


def main() -> None:
    given = (*sys.argv[1:], *("24", "200", "0.5")[len(sys.argv) - 1 :])
    many, documents, pause = int(given[0]), int(given[1]), float(given[2])
    with data_folder() as folder:
        settings = Settings(data=folder)
        with supervisor.database(settings) as ready:
            store = open_store(ready.database_url, str(folder / "blobs"))
            set_up_first_lane(store)
            with store.transaction() as session:  # so that workers have nothing to do
                amend(lane_of_key(session, KEY), take_back_seconds=600)
            for at in range(many):
                people.add_person(store, f"person-{at}", f"Person {at}", PASSWORD)
            first = people.sign_in(store, "person-0", PASSWORD)
            assert first
            copies(store, first, documents, settled=False)
        with server(folder, ZESTPAIL_WORKERS="1") as (_, address, _):
            told = _at_once(address, many, pause)
        with supervisor.database(settings) as ready:
            _counted(open_store(ready.database_url, str(folder / "blobs")), told, documents)


def _at_once(address: str, many: int, pause: float) -> list[Told]:
    told, together = [Told() for _ in range(many)], threading.Barrier(many)
    hands = [threading.Thread(target=_work, args=(address, at, told[at], pause, together)) for at in range(many)]
    began = time.perf_counter()
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join()
    times = sorted(one for each in told for one in each.times)
    print(f"{many} people, {pause} s between edits: {len(times)} edits in {time.perf_counter() - began:.0f} s")
    told_of = statistics.median(times), times[int(0.95 * len(times))], times[-1]
    median, late, longest = (round(one * 1000) for one in told_of)
    print(f"an edit: median {median} ms, p95 {late} ms, longest {longest} ms")
    return told


def _work(address: str, at: int, told: Told, pause: float, together: threading.Barrier) -> None:
    lot = random.Random(at)
    with httpx.Client(base_url=address, headers={"origin": address}, timeout=60) as client:
        client.post("/sign-in", data={"login": f"person-{at}", "password": PASSWORD})
        together.wait()
        time.sleep(lot.uniform(0, 2 * pause))
        where = "/review"
        while told.refused.total() < MOST_REFUSED:
            shown = client.get(where, follow_redirects=True)
            found = re.fullmatch(r"/review/(\d+)", shown.url.path)
            version = VERSION.search(shown.text)
            if not found or not version:
                return
            where = _one(client, int(found[1]), int(version[1]), told, lambda: time.sleep(lot.uniform(0, 2 * pause)))


def _one(client: httpx.Client, number: int, version: int, told: Told, think: object) -> str:
    """Enter a value in each field and end the document; where to go next."""
    assert callable(think)
    for key in FIELDS:
        think()
        text = f"{key} by hand {random.randrange(10**9)}"
        began = time.perf_counter()
        answer = client.post(f"/review/{number}/fields/{key}/enter", data={"version": version, "text": text})
        told.times.append(time.perf_counter() - began)
        now = VERSION.search(answer.text)
        if answer.status_code != 200 or not now or 'data-refused="yes"' in answer.text:
            told.refused[answer.status_code] += 1
            return "/review"
        told.edits[number, key], version = text, int(now[1])
    think()
    answer = client.post(f"/review/{number}/done", data={"version": version})
    if answer.headers["content-type"].startswith("application/json"):
        told.done.append(number)
        return str(answer.json()["next"])
    told.refused[answer.status_code] += 1
    return "/review"


def _counted(store: Store, told: list[Told], documents: int) -> None:
    with store.transaction() as session:
        values = {(one.document_id, one.key): one.value for one in session.exec(select(FieldValue))}
        states = Counter(session.exec(select(Document.state)))
        by = Counter(
            (one.document_id, one.person_id) for one in session.exec(select(Event).where(Event.what == "settled"))
        )
    edits = [(place, text) for each in told for place, text in each.edits.items()]
    lost = [place for place, text in edits if values.get(place) != text]
    twice = [place for place, count in Counter(place for place, _ in edits).items() if count > 1]
    done = Counter(number for each in told for number in each.done)
    print(f"{len(edits)} edits acknowledged: {len(lost)} lost, {len(twice)} places written by two people")
    print(
        f"{len(done)} of {documents} done, {sum(done.values()) - len(done)} done twice, {len(by)} settled by one person"
    )
    print(f"states {({DocumentState(state).value: count for state, count in states.items()})}, refused "
          f"{sum((each.refused for each in told), Counter())}")  # fmt: skip


if __name__ == "__main__":
    main()
