"""Records in the stand-in ledger: there once, whatever goes wrong on the way."""

from __future__ import annotations

import json
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import httpx
import pytest
import uvicorn
from sqlmodel import select

from tests.core.test_mapping import THERE
from tests.desk.flow import LANE, drop, jobs, read_all, state
from zestpail.delivery import AllowedWeb, RecordDestination, Refused, Web
from zestpail.delivery.mapping import Ties
from zestpail.desk.batches.batch import batch_view
from zestpail.desk.delivery import deliveries
from zestpail.desk.delivery.delivered_files import delivered_file
from zestpail.desk.delivery.outlets import outlets_of
from zestpail.desk.delivery.reconciliation import reconciled
from zestpail.desk.documents.context import amend, lane_of_key
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.secrets import keep_secret, web_of
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.documents.transitions import correct, settle, take_back
from zestpail.desk.lanes.destinations import edits, ties
from zestpail.desk.lanes.destinations.view import destination_view, destinations_of_lane, try_destination
from zestpail.standins.ledger import create_app
from zestpail.store import Store
from zestpail.store.access_tables import Secret
from zestpail.store.states import DocumentState
from zestpail.store.tables import Document, FieldValue

KEY = "a key of the ledger"
TIES = Ties.model_validate({"ties": [
    {"column": column, "value": {"source": "field", "key": key}}
    for column, key in (("supplier", "seller_name"), ("number", "invoice_number"), ("date", "issue_date"),
                        ("total", "grand_total"), ("batch", "batch"))
]})  # fmt: skip


@dataclass
class Running:
    """The ledger as it runs, and the installation that speaks to it."""

    address: str
    web: Web

    def vouchers(self) -> list[dict[str, object]]:
        answer = httpx.get(f"{self.address}/api/vouchers", headers={"authorization": f"Bearer {KEY}"})
        return list(answer.json())

    def misbehave(self, *coming: str) -> None:
        httpx.post(f"{self.address}/misbehave", json=list(coming))


@pytest.fixture
def ledger(store: Store, ines: SignedIn, tmp_path: Path) -> Iterator[Running]:
    server = uvicorn.Server(uvicorn.Config(create_app(tmp_path / "ledger", KEY), port=0, log_level="error"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    address = f"http://127.0.0.1:{server.servers[0].sockets[0].getsockname()[1]}"
    keep_secret(store, tmp_path, "ledger", KEY, ines.id)
    there = RecordDestination(id="ledger", name="Ledger", address=f"{address}/api/vouchers", secret="ledger",
                              columns=THERE, ties=TIES)  # fmt: skip
    with store.transaction() as session:
        lane = lane_of_key(session, LANE)
        amend(lane, destinations=(*lane.settings.destinations, there))
    yield Running(address, web_of(store, tmp_path, [f"{address}/api"]))
    server.should_exit = True
    thread.join()


def change(store: Store, ines: SignedIn, key: str, to: str) -> None:
    with store.transaction() as session:
        document = session.get_one(Document, 1)
        value = session.exec(select(FieldValue).where(FieldValue.document_id == 1, FieldValue.key == key)).one()
        value.value = to
        settle(session, document, ines.id)


def test_a_voucher_is_there_once_whatever_goes_wrong(
    store: Store, ines: SignedIn, ledger: Running, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    batch = drop(store, ines, "brevanne-01.pdf")
    read_all(store)

    def deliver() -> bool:
        return deliveries.deliver(store, tmp_path / "out", 1, web=ledger.web)

    ledger.misbehave("error", "error after storing")
    assert not deliver() and ledger.vouchers() == [] and state(store, 1) == DocumentState.SETTLED
    assert "answers 500. It is tried again at" in str(batch_view(store, batch).documents[0].problem)
    assert jobs(store).count(("deliver", {"document_id": 1})) == 2
    assert [(one.sent, one.later) for one in batch_view(store, batch).destinations] == [(1, 0), (0, 1)]
    assert deliveries.deliver_batch_again(store, batch, ines.id) == 1
    assert jobs(store).count(("deliver", {"document_id": 1})) == 3
    assert not deliver() and len(ledger.vouchers()) == 1

    with monkeypatch.context() as patched:
        patched.setattr(deliveries, "note", killed)
        with pytest.raises(KeyboardInterrupt):
            deliver()
    assert deliver() and state(store, 1) == DocumentState.DELIVERED
    (voucher,) = ledger.vouchers()
    receipts = batch_view(store, batch).documents[0].receipts
    assert receipts[1].record == voucher["id"] == "V-00001" and voucher["batch"] == f"B{batch}"
    assert batch_view(store, batch).documents[0].problem is None
    assert json.loads(delivered_file(store, 1, 1).data)["number"] == voucher["number"]
    assert deliveries.deliver_batch_again(store, batch, ines.id) == 0

    with store.transaction() as session:
        correct(session, session.get_one(Document, 1), ines.id)
    change(store, ines, "grand_total", "99.50")
    assert deliver() and [(one["id"], one["total"]) for one in ledger.vouchers()] == [("V-00001", 99.5)]


def test_what_is_taken_back_is_removed_over_there(
    store: Store, ines: SignedIn, ledger: Running, tmp_path: Path
) -> None:
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    ledger.misbehave("error after storing")
    assert not deliveries.deliver(store, tmp_path / "out", 1, web=ledger.web) and len(ledger.vouchers()) == 1
    with store.transaction() as session:
        take_back(session, session.get_one(Document, 1), ines.id)
    deliveries.take_out(store, tmp_path / "out", 1, web=ledger.web)
    assert ledger.vouchers() == []
    change(store, ines, "grand_total", "12.25")
    assert deliveries.deliver(store, tmp_path / "out", 1, web=ledger.web)
    assert [one["total"] for one in ledger.vouchers()] == [12.25]


def test_a_batch_is_held_against_what_is_there_now(
    store: Store, ines: SignedIn, ledger: Running, tmp_path: Path
) -> None:
    batch = drop(store, ines, "brevanne-01.pdf", "bight-02.pdf")
    read_all(store)
    for number in (1, 2):
        assert deliveries.deliver(store, tmp_path / "out", number, web=ledger.web)
    (found,) = reconciled(store, ledger.web, batch)
    assert found.same and found.there == found.here and found.here.count == 2 and found.here.sums["Total"] > 0

    head = {"authorization": f"Bearer {KEY}"}
    first, second = ledger.vouchers()
    httpx.put(f"{ledger.address}/api/vouchers/V-00001", headers=head, json=changed(first, total=1, number="X-1"))
    httpx.delete(f"{ledger.address}/api/vouchers/V-00002", headers=head)
    for key in (f"{ledger.web.house}-ledger-D9-1", "another-house-ledger-D1-1"):
        httpx.post(f"{ledger.address}/api/vouchers", json=changed(second), headers={**head, "idempotency-key": key})
    (found,) = reconciled(store, ledger.web, batch)
    assert not found.same and found.there and found.there.count == 2
    assert found.differences == (
        f"Document 1: “{first['number']}” here is “X-1” over there.",
        f"Document 1: Total is {first['total']} here and 1 over there.",
        "Document 2 is not there: it was taken as V-00002.", "V-00003 is there and was not sent by this batch.",
    )  # fmt: skip


def changed(voucher: dict[str, object], **values: object) -> dict[str, object]:
    return {name: value for name, value in voucher.items() if name not in ("id", "key")} | values


def test_refusals_are_told_in_the_words_of_the_other_side(
    store: Store, ines: SignedIn, ledger: Running, tmp_path: Path
) -> None:
    batch = drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    ledger.misbehave("refuse The period 2026-02 is closed.")
    assert not deliveries.deliver(store, tmp_path / "out", 1, web=ledger.web)
    assert state(store, 1) == DocumentState.STUCK
    assert batch_view(store, batch).documents[0].problem == "Ledger does not take it: The period 2026-02 is closed."
    deliveries.deliver_again(store, 1, ines.id)
    assert deliveries.deliver(store, tmp_path / "out", 1, web=ledger.web) and len(ledger.vouchers()) == 1


def killed(*_args: object, **_more: object) -> None:
    raise KeyboardInterrupt


def test_keys_are_sealed_and_only_allowed_addresses_asked(
    store: Store, ines: SignedIn, ledger: Running, tmp_path: Path
) -> None:
    with store.transaction() as session:
        sealed = session.get_one(Secret, "ledger").sealed
        assert KEY not in sealed and KEY not in json.dumps(lane_of_key(session, LANE).settings.model_dump(mode="json"))
    assert (tmp_path / "secrets.key").stat().st_mode & 0o077 == 0
    with pytest.raises(Refused, match="not among the addresses"):
        ledger.web.call("GET", f"{ledger.address}/misbehave", "")
    with pytest.raises(Refused, match="enter it again"):
        ledger.web.call("GET", f"{ledger.address}/api/vouchers", "another")
    closed = AllowedWeb(["http://127.0.0.1:1/"], lambda _: "", "")
    with pytest.raises(Refused, match="does not answer"):
        closed.call("GET", "http://127.0.0.1:1/", "")


def test_ties_are_changed_and_undone(store: Store, ines: SignedIn, ledger: Running, tmp_path: Path) -> None:
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    outlets = outlets_of(store, tmp_path / "out", web=ledger.web)

    def add(name: str, address: str, key: str) -> str:
        entered = {"name": name, "address": address, "secret": key, "way": "new"}
        return edits.add(store, outlets, tmp_path, LANE, "record", entered, ines.id)

    with pytest.raises(NotDone, match="not among the addresses"):
        add("Elsewhere", "http://127.0.0.1:1/api", "")
    with pytest.raises(NotDone, match="does not say its columns: The key is not known"):
        add("Ledger", f"{ledger.address}/api/vouchers", "wrong")
    made = add("Ledger", f"{ledger.address}/api/vouchers/", KEY)
    assert made == "ledger-2", "the other one has its name"

    def tie(place: str, key: str) -> None:
        ties.tie(store, LANE, made, place, {"source": "field", "key": key}, ines.id)

    tie("total", "grand_total")
    tie("lines/text", "lines/description")
    tie("lines/amount", "lines/line_total")
    with pytest.raises(NotDone, match="Into a row over there go columns of a table"):
        tie("lines/price", "grand_total")
    with pytest.raises(NotDone, match="A column of a table goes into a row"):
        tie("net", "lines/line_total")
    with pytest.raises(Missing, match="no such column"):
        tie("weight", "grand_total")
    with pytest.raises(NotDone, match="Nothing was changed"):
        ties.tie(store, LANE, made, "text", {"source": "joined", "pattern": ""}, ines.id)
    with pytest.raises(Missing, match="says itself which columns"):
        ties.add_column(store, LANE, made, "Weight", "number", ines.id)
    seen = destination_view(store, LANE, made)
    assert seen.mapping
    theirs = {one.place: one for one in seen.mapping.theirs}
    assert float(theirs["total"].value) > 0 and theirs["total"].sentence == "Total"
    assert theirs["lines/text"].value and theirs["lines/text"].sentence.endswith("Description")
    assert seen.mapping.faults.not_tied == ("Supplier", "Voucher number", "Voucher date") and not seen.active
    with pytest.raises(NotDone, match=r"Supplier is required and is empty"):
        try_destination(store, outlets, LANE, made, 1)

    ties.tie(store, LANE, made, "lines/text", None, ines.id)
    edits.remove(store, LANE, made, ines.id)
    with pytest.raises(Missing):
        destination_view(store, LANE, made)
    for _ in range(2):
        edits.undo(store, LANE, ines.id)
    assert destination_view(store, LANE, made).mapping == seen.mapping
    for _ in range(4):
        edits.undo(store, LANE, ines.id)
    there = destinations_of_lane(store, LANE)
    assert [one.id for one in there.there] == ["folder", "ledger"] and there.active
    with pytest.raises(NotDone, match="nothing to undo"):
        edits.undo(store, LANE, ines.id)

    tried = try_destination(store, outlets, LANE, "ledger", 1)
    assert tried.came_back.startswith("201") and tried.removed == ("V-00001",) and ledger.vouchers() == []
    assert json.loads(tried.sent)["batch"] == "B1"
