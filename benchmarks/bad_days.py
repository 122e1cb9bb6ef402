"""Whether all is there once on bad days: ``python -m benchmarks.bad_days [documents] [kills]``.

Documents go to a folder with its spreadsheets, to the ledger and to the document repository, while the ledger fails
one time in five, half of the times after having stored, and workers are killed in the middle of it. What lies over
there is counted at the end.
"""

from __future__ import annotations

import csv
import os
import random
import signal
import subprocess
import sys
import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any

import httpx
import uvicorn
from sqlmodel import col, func, select

from benchmarks.private import private_store
from zestpail.delivery import RecordDestination
from zestpail.delivery.columns import Column, Columns, columns_of
from zestpail.delivery.mapping import Ties
from zestpail.delivery.repository import RepositoryDestination
from zestpail.desk.documents.context import amend, lane_of_key
from zestpail.desk.documents.secrets import keep_secret
from zestpail.desk.documents.transitions import settle
from zestpail.desk.intake.arrivals import arrive
from zestpail.desk.lanes.first_lane import KEY, set_up_first_lane
from zestpail.desk.people.people import SignedIn
from zestpail.desk.pipeline import extract, reading
from zestpail.standins import ledger, repository
from zestpail.store import Store
from zestpail.store.states import DocumentState
from zestpail.store.tables import Delivery, Document, FieldValue, Page

ROOT = Path(__file__).parents[1]
PAPER = ROOT / "demo" / "files" / "supplier-invoices" / "brevanne-01.pdf"
KEYS = {"ledger": "of the ledger", "repository": "of the files"}
MOST_SECONDS = 1800


def main() -> None:
    many, kills = (int(given) for given in (*sys.argv[1:], *("500", "10")[len(sys.argv) - 1 :]))
    lot = random.Random(16)
    with private_store() as (store, folder, person), ExitStack() as running:
        at = {
            "ledger": running.enter_context(served_app(ledger.create_app(folder / "ledger", KEYS["ledger"]))),
            "repository": running.enter_context(
                served_app(repository.create_app(folder / "repository", "harbour", KEYS["repository"]))
            ),
        }
        _lane(store, folder, person, at)
        faults = [lot.choice(("error", "error after storing")) if lot.random() < 0.2 else "" for _ in range(4 * many)]
        httpx.post(f"{at['ledger']}/misbehave", json=faults)
        copies(store, person, many)
        began = time.perf_counter()
        killed = _work(store, folder, at, kills, lot)
        print(f"{many} documents to 3 destinations in {time.perf_counter() - began:.0f} s, {killed} workers killed")
        _counted(store, folder, at, many)


@contextmanager
def served_app(app: Any) -> Iterator[str]:
    server = uvicorn.Server(uvicorn.Config(app, port=0, log_level="error"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.05)
    yield f"http://127.0.0.1:{server.servers[0].sockets[0].getsockname()[1]}"
    server.should_exit = True
    thread.join(20)


def _lane(store: Store, folder: Path, person: SignedIn, at: dict[str, str]) -> None:
    set_up_first_lane(store)
    for name, key in KEYS.items():
        keep_secret(store, folder, name, key, person.id)
    ties = (("supplier", "seller_name"), ("number", "invoice_number"), ("date", "issue_date"), ("total", "grand_total"))
    told = [{"column": column, "value": {"source": "field", "key": key}} for column, key in ties]
    records = RecordDestination(
        id="ledger", address=f"{at['ledger']}/api/vouchers", secret="ledger", columns=columns_of(ledger.COLUMNS),
        ties=Ties.model_validate({"ties": told}),
    )  # fmt: skip
    files = RepositoryDestination(
        id="repository", address=f"{at['repository']}/files/bills", user="harbour", secret="repository",
        columns=Columns(plain=(Column(key="number", name="Number"),)), ties=Ties.model_validate({"ties": told[1:2]}),
    )  # fmt: skip
    with store.transaction() as session:
        lane = lane_of_key(session, KEY)
        amend(lane, destinations=(*lane.settings.destinations, records, files))


def copies(store: Store, person: SignedIn, many: int, *, settled: bool = True) -> None:
    """One paper is read; the others are the same but for their number, settled or to be reviewed."""
    batch = arrive(store, KEY, PAPER.name, PAPER.read_bytes(), person.id, None)
    reading.open_file(store, 1)
    reading.read_page(store, 1)
    extract.extract_document(store, 1)
    with store.transaction() as session:
        first, page = session.get_one(Document, 1), session.get_one(Page, 1)
        values = list(session.exec(select(FieldValue).where(FieldValue.document_id == 1)))
        for at in range(2, many + 1):
            document = Document(batch_id=batch, file_id=1, revision_id=first.revision_id, state=DocumentState.REVIEW)
            session.add(document)
            session.flush()
            session.add(Page(**page.model_dump(exclude={"id", "document_id", "edits"}), document_id=document.id))
            for value in values:
                own = {"value": f"F-{at:05}"} if value.key == "invoice_number" else {}
                session.add(FieldValue(**{**value.model_dump(exclude={"id"}), "document_id": document.id, **own}))
            if settled:
                settle(session, document, person.id)


def _work(store: Store, folder: Path, at: dict[str, str], kills: int, lot: random.Random) -> int:
    """Two workers until all is delivered; they are killed at any time, and others take their places."""
    environment = {
        **os.environ, "ZESTPAIL_DATABASE_URL": store.url, "ZESTPAIL_DATA": str(folder), "ZESTPAIL_STALLED_AFTER": "3",
        "ZESTPAIL_DELIVERY_ADDRESSES": f"{at['ledger']}/api {at['repository']}/files",
    }  # fmt: skip
    command = [sys.executable, "-m", "zestpail", "work", "--child"]
    quiet = {"stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL}
    workers = [subprocess.Popen(command, env=environment, cwd=ROOT, **quiet) for _ in range(2)]  # type: ignore[call-overload]
    killed, end, next_kill = 0, time.monotonic() + MOST_SECONDS, time.monotonic() + 15
    while _left(store) and time.monotonic() < end:
        time.sleep(0.5)
        if killed < kills and time.monotonic() >= next_kill:
            victim = lot.randrange(2)
            workers[victim].send_signal(signal.SIGKILL)
            workers[victim].wait()
            workers[victim] = subprocess.Popen(command, env=environment, cwd=ROOT, **quiet)  # type: ignore[call-overload]
            killed, next_kill = killed + 1, time.monotonic() + lot.uniform(4, 14)
    for worker in workers:
        worker.terminate()
        worker.wait(60)
    return killed


def _left(store: Store) -> int:
    with store.transaction() as session:
        wanted = select(func.count()).select_from(Document).where(Document.state == DocumentState.SETTLED)
        return int(session.exec(wanted).one())


def _counted(store: Store, folder: Path, at: dict[str, str], many: int) -> None:
    wanted = Counter({"brevanne": 1, **{f"F-{number:05}": 1 for number in range(2, many + 1)}})
    with store.transaction() as session:
        states = Counter(session.exec(select(Document.state)))
        attempts = session.exec(select(func.sum(col(Delivery.attempts)))).one()
    rows = list(csv.DictReader((folder / "delivered" / KEY / f"{KEY}.csv").open(encoding="utf-8")))
    pdfs = list((folder / "delivered" / KEY).rglob("*.pdf"))
    head = {"authorization": f"Bearer {KEYS['ledger']}"}
    vouchers = httpx.get(f"{at['ledger']}/api/vouchers", headers=head, timeout=60).json()
    files = [path for path in (folder / "repository" / "files").rglob("*") if path.is_file()]
    print(f"states {dict(states)}, {attempts} attempts")
    for name, found in (
        ("rows of the folder's CSV", [row["Invoice number"] for row in rows]), ("PDFs in the folder", _numbers(pdfs)),
        ("vouchers", [str(one["number"]) for one in vouchers]), ("files in the repository", _numbers(files)),
    ):  # fmt: skip
        counted = Counter(found)
        twice = sum(count - 1 for count in counted.values())
        missing = sum(1 for number in wanted if number.startswith("F-") and number not in counted)
        print(f"{name}: {len(found)} of {many}, {twice} twice, {missing} missing")


def _numbers(paths: list[Path]) -> list[str]:
    return [path.stem.split()[-1] for path in paths]


if __name__ == "__main__":
    main()
