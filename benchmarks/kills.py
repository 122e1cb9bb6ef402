"""Whether anything is lost or doubled when processes are killed: ``python -m benchmarks.kills [pages] [kills]``.

A server as anybody starts it takes pages by API, watched folder and e-mail, a person reviews over HTTP, and what is
done goes to a folder and to the ledger. Meanwhile workers, web, intake and PostgreSQL are killed at any time; nobody
restarts anything by hand. What lies over there is counted at the end.
"""

from __future__ import annotations

import csv
import os
import random
import signal
import smtplib
import subprocess
import sys
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from email.message import EmailMessage
from pathlib import Path

import httpx
from sqlmodel import col, func, select

from benchmarks.bad_days import served_app
from benchmarks.kill_papers import number_of, paper
from benchmarks.server import data_folder, server
from zestpail.delivery import RecordDestination
from zestpail.delivery.columns import columns_of
from zestpail.delivery.mapping import Ties
from zestpail.desk.documents.context import amend, lane_of_key
from zestpail.desk.documents.secrets import keep_secret
from zestpail.desk.documents.signed_in import EVERY_ROLE, SignedIn
from zestpail.desk.lanes.first_lane import KEY, set_up_first_lane
from zestpail.desk.people import people, tokens
from zestpail.desk.people.tokens import Scope, TokenTerms
from zestpail.desk.review.view import ReviewView, review_view
from zestpail.runtime import supervisor
from zestpail.settings import Settings
from zestpail.standins import ledger
from zestpail.store import Store, Unreachable, open_store
from zestpail.store.states import DocumentState, FileState
from zestpail.store.tables import ArrivedFile, Delivery, Document

LEDGER_KEY = "of the ledger"
VICTIMS = ("worker", "web", "intake", "postgres")
MOST_SECONDS = 3000
PAUSE = (2.0, 6.0)
"""Seconds between two kills."""
TIES = (("supplier", "seller_name"), ("number", "invoice_number"), ("date", "issue_date"), ("total", "grand_total"))


@dataclass
class Run:
    """What goes on, and what is known of it."""

    store: Store
    folder: Path
    address: str
    smtp: int
    token: str
    many: int
    entered: dict[str, str] = field(default_factory=dict)
    """By the paper's name, the value whose entry was acknowledged."""
    killed: Counter[str] = field(default_factory=Counter)
    over: threading.Event = field(default_factory=threading.Event)

    def stubbornly(self, act: Callable[[], bool]) -> None:
        """Until it is acknowledged, as whoever sends something does."""
        while not self.over.is_set():
            try:
                if act():
                    return
            except (httpx.HTTPError, OSError, smtplib.SMTPException, Unreachable):
                pass
            time.sleep(0.5)


def main() -> None:
    many, kills = (int(given) for given in (*sys.argv[1:], *("500", "100")[len(sys.argv) - 1 :]))
    with data_folder() as folder, served_app(ledger.create_app(folder.parent / "ledger", LEDGER_KEY)) as books:
        settings = Settings(data=folder)
        with supervisor.database(settings) as ready:
            store = open_store(ready.database_url, str(folder / "blobs"))
            person, token = _set_up(store, folder, books)
        allowed = {"ZESTPAIL_DELIVERY_ADDRESSES": f"{books}/api"}
        with server(folder, ZESTPAIL_WORKERS="2", ZESTPAIL_STALLED_AFTER="8", **allowed) as (process, address, smtp):
            run = Run(open_store(ready.database_url, str(folder / "blobs")), folder, address, smtp, token, many)
            _through(run, process, person, kills)
        with supervisor.database(settings) as ready:
            _counted(run, open_store(ready.database_url, str(folder / "blobs")), books)


def _set_up(store: Store, folder: Path, books: str) -> tuple[SignedIn, str]:
    """The lane with its two destinations, who reviews, and the token of what sends."""
    set_up_first_lane(store)
    people.add_person(store, "bench", "Bench", "quillon", EVERY_ROLE)
    person = people.sign_in(store, "bench", "quillon")
    assert person
    keep_secret(store, folder, "ledger", LEDGER_KEY, person.id)
    told = [{"column": column, "value": {"source": "field", "key": key}} for column, key in TIES]
    records = RecordDestination(
        id="ledger", address=f"{books}/api/vouchers", secret="ledger", columns=columns_of(ledger.COLUMNS),
        ties=Ties.model_validate({"ties": told}),
    )  # fmt: skip
    with store.transaction() as session:
        lane = lane_of_key(session, KEY)
        amend(lane, destinations=(*lane.settings.destinations, records))
    return person, tokens.make_token(store, TokenTerms(name="bench", scopes=list(Scope)), person.id)


def _through(run: Run, process: subprocess.Popen[bytes], person: SignedIn, kills: int) -> None:
    """Pages come, are reviewed and delivered, while processes are killed."""
    others = [
        threading.Thread(target=_send, args=(run, kills * sum(PAUSE) / 2)),
        threading.Thread(target=_review, args=(run, person)),
    ]
    for other in others:
        other.start()
    began, lot = time.monotonic(), random.Random(17)
    while sum(run.killed.values()) < kills and time.monotonic() - began < MOST_SECONDS:
        time.sleep(lot.uniform(*PAUSE))
        run.killed.update(_killed(run.folder, process.pid, lot.choice(VICTIMS), lot))
    print(f"killed in {time.monotonic() - began:.0f} s: {dict(run.killed)}")
    while _delivered(run.store) < run.many and time.monotonic() - began < MOST_SECONDS:
        time.sleep(1)
    print(f"{run.many} pages in {time.monotonic() - began:.0f} s; the server {_standing(process)}")
    run.over.set()
    for other in others:
        other.join()


def _standing(process: subprocess.Popen[bytes]) -> str:
    return "runs as it was started" if process.poll() is None else f"ended by itself ({process.returncode})"


def _killed(folder: Path, server: int, kind: str, lot: random.Random) -> list[str]:
    """Kill one process of that kind, if one is there."""
    try:
        if kind == "postgres":
            found = [int((folder / "postgres" / "postmaster.pid").read_text().split()[0])]
        else:
            found = list(_children(server, kind))
        if not found:
            return []
        os.kill(lot.choice(found), signal.SIGKILL)
    except (OSError, IndexError, ValueError):
        return []
    return [kind]


def _children(server: int, kind: str) -> Iterator[int]:
    """The processes of that kind whose parent is the server's fork server."""
    for status in Path("/proc").glob("[0-9]*/stat"):
        try:
            name, _, rest = status.read_text().partition("(")[2].rpartition(")")
            parent = int(rest.split()[1])
            grandparent = int(Path(f"/proc/{parent}/stat").read_text().rpartition(")")[2].split()[1])
        except (OSError, IndexError, ValueError):
            continue
        if name.startswith(f"zp {kind}") and grandparent == server and rest.split()[0] != "Z":
            yield int(status.parent.name)


def _send(run: Run, seconds: float) -> None:
    """The papers, one after the other by three ways, each until it is acknowledged."""
    for number in range(run.many):
        name, data = f"k-{number:05}.pdf", paper(number)
        (_by_api, _by_folder, _by_mail)[number % 3](run, name, data)
        time.sleep(0.8 * seconds / run.many)


def _by_api(run: Run, name: str, data: bytes) -> None:
    head = {"authorization": f"Bearer {run.token}", "idempotency-key": name}
    address = f"{run.address}/api/v1/lanes/{KEY}/files"
    run.stubbornly(
        lambda: httpx.post(address, files={"file": (name, data)}, headers=head, timeout=20).status_code == 201
    )


def _by_folder(run: Run, name: str, data: bytes) -> None:
    folder = run.folder / "incoming" / KEY
    run.stubbornly(folder.exists)
    (folder / f"{name}.part").write_bytes(data)
    (folder / f"{name}.part").rename(folder / name)


def _by_mail(run: Run, name: str, data: bytes) -> None:
    message = EmailMessage()
    message["From"], message["Subject"], message["Message-ID"] = "a@there.example", name, f"<{name}@there.example>"
    message["Date"] = "Mon, 02 Mar 2026 09:00:00 +0000"
    message.set_content("")
    message.add_attachment(data, maintype="application", subtype="pdf", filename=name)

    def sent() -> bool:
        with smtplib.SMTP("127.0.0.1", run.smtp, timeout=20) as post:
            return post.send_message(message, "a@there.example", f"{KEY}@here") == {}

    run.stubbornly(sent)


def _review(run: Run, person: SignedIn) -> None:
    """Whatever waits for a person, over HTTP, as the pages do it."""
    with httpx.Client(base_url=run.address, headers={"origin": run.address}, timeout=20) as client:
        while not run.over.is_set():
            run.stubbornly(lambda: _one_reviewed(run, client, person))


def _one_reviewed(run: Run, client: httpx.Client, person: SignedIn) -> bool:
    """One step in the document that has waited longest; whether there was none."""
    with run.store.transaction() as session:
        wanted = select(Document.id).where(Document.state == DocumentState.REVIEW).order_by(col(Document.id))
        waiting = session.exec(wanted).first()
    if waiting is None:
        time.sleep(0.3)
        return True
    if client.get(f"/review/{waiting}").status_code == 303:
        client.post("/sign-in", data={"login": "bench", "password": "quillon"})
        return False
    view = review_view(run.store, waiting, person.id)
    for card in view.cards:
        if card.key == "invoice_number" and view.file_name not in run.entered:
            number = number_of(view.file_name)
            if client.post(f"/review/{waiting}/fields/{card.key}/enter",
                           data={"version": view.version, "text": number}).status_code == 200:  # fmt: skip
                run.entered[view.file_name] = number
            return False
        if card.state == "doubtful":
            client.post(f"/review/{waiting}/fields/{card.key}/accept", data={"version": view.version})
            return False
    _kept_or_done(client, view)
    return False


def _kept_or_done(client: httpx.Client, view: ReviewView) -> None:
    checks = [check for card in view.cards for check in card.failed] + view.page_checks + view.table_checks
    for check in checks:
        data: dict[str, str | int] = {"version": view.version, "check": check.check}
        client.post(f"/review/{view.document_id}/checks/keep", data=data)
        return
    client.post(f"/review/{view.document_id}/done", data={"version": view.version})


def _delivered(store: Store) -> int:
    try:
        with store.transaction() as session:
            wanted = select(func.count()).select_from(Document).where(Document.state == DocumentState.DELIVERED)
            return int(session.exec(wanted).one())
    except Unreachable:
        return 0


def _counted(run: Run, store: Store, books: str) -> None:
    wanted = {number_of(f"k-{number:05}.pdf") for number in range(run.many)}
    with store.transaction() as session:
        states = Counter(session.exec(select(Document.state)))
        refused = session.exec(select(ArrivedFile.name).where(ArrivedFile.state == FileState.REFUSED)).all()
        attempts = session.exec(select(func.sum(col(Delivery.attempts)))).one()
    rows = list(csv.DictReader((run.folder / "delivered" / KEY / f"{KEY}.csv").open(encoding="utf-8")))
    pdfs = list((run.folder / "delivered" / KEY).rglob("*.pdf"))
    head = {"authorization": f"Bearer {LEDGER_KEY}"}
    vouchers = httpx.get(f"{books}/api/vouchers", headers=head, timeout=60).json()
    print(f"documents {dict(states)}, refused {list(refused)}, {attempts} attempts of deliveries")
    for name, found in (
        ("rows of the folder's CSV", [row["Invoice number"] for row in rows]),
        ("PDFs in the folder", [path.stem.split()[-1] for path in pdfs]),
        ("vouchers", [str(one["number"]) for one in vouchers]),
    ):
        counted = Counter(found)
        twice = sum(count - 1 for count in counted.values())
        print(f"{name}: {len(found)} of {run.many}, {twice} twice, {len(wanted - set(counted))} missing")
    lost = [number for number in run.entered.values() if number not in {str(one["number"]) for one in vouchers}]
    print(f"{len(run.entered)} edits were acknowledged, {len(lost)} of them lost")
    print(
        f"waiting in the watched folder: {len([f for f in (run.folder / 'incoming' / KEY).iterdir() if f.is_file()])}"
    )


if __name__ == "__main__":
    main()
