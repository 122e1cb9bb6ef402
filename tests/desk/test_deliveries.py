"""What arrives is kept, what is delivered is delivered once, and nothing is written over."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path, PurePosixPath

import pytest
from openpyxl import load_workbook

from tests.bad_files import SENTENCES, write_bad_files
from tests.desk.flow import LANE, card, deliver_all, drop, ids, jobs, read_all, rows_of, seen, state
from zestpail.core.reading.opening import open_page
from zestpail.delivery import FolderFiles, MailDestination, Parcel, Refused, SmtpPost, Taken
from zestpail.desk.archive.search import find_documents
from zestpail.desk.batches.batch import batch_view
from zestpail.desk.batches.control_totals import set_control
from zestpail.desk.batches.today import status, today
from zestpail.desk.delivery import deliveries
from zestpail.desk.documents.context import amend, lane_of_key
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake import arrivals
from zestpail.desk.lanes.separator_sheets import print_sheets
from zestpail.desk.pipeline import extract, reading
from zestpail.desk.review import desk
from zestpail.desk.review.view import review_view
from zestpail.store import Store
from zestpail.store.states import DocumentState
from zestpail.store.tables import Document, Page


def test_a_document_from_arrival_to_receipt(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    root = tmp_path / "delivered"
    batch = drop(store, ines, "dredgemoor-01.pdf")
    assert jobs(store) == [("open_file", {"file_id": 1})]
    read_all(store)
    read_all(store)  # every step may be done twice
    assert [name for name, _ in jobs(store)] == ["open_file", "read_page", "read_page", "extract", "deliver"]
    assert deliver_all(store, root) == [True]
    assert deliver_all(store, root) == [False]
    (document,) = batch_view(store, batch).documents
    (receipt,) = document.receipts
    written = root / receipt.file
    assert written.relative_to(root).parts[0] == LANE
    assert written.name.startswith("Dredgemoor Contractors LLP DC-")
    assert {w.text for w in open_page(written.read_bytes(), 1).layer} >= {"payable", "GBP"}
    assert [page.state for page in document.pages] == ["text_layer", "text_layer"]
    (row,) = rows_of(root)
    assert (row["Document"], row["Supplier"]) == (receipt.reference, "Dredgemoor Contractors LLP")
    sheet = load_workbook(root / LANE / f"{LANE}.xlsx").worksheets[0]
    assert float(row["Total"]) == sheet["M2"].value
    assert today(store).lanes[0].delivered.count == 1
    assert [found.document_id for found in find_documents(store, "dredgemoor")] == [document.id]
    assert find_documents(store, "100%_\\") == []


def test_bad_files_are_refused_and_the_rest_goes_on(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    batch = drop(store, ines, "brevanne-01.pdf")
    for path in write_bad_files(tmp_path):
        arrivals.arrive(store, LANE, f"../..\x07\\{path.name}", path.read_bytes(), ines.id, batch)
    read_all(store)
    details = {file.name: file.problem for file in batch_view(store, batch).files}
    assert details == {"brevanne-01.pdf": None, **SENTENCES}
    assert status(store).review == 0
    assert state(store, 1) == DocumentState.SETTLED
    with pytest.raises(Missing):
        arrivals.arrive(store, "no-such-lane", "x.pdf", b"x", ines.id, None)


def test_a_page_that_cannot_be_read_asks_for_a_person(store: Store, ines: SignedIn) -> None:
    drop(store, ines, "hallig-01.tif")
    reading.open_file(store, 1)
    first, second = ids(store, Page)
    reading.fail_page(store, second, "it is torn.")
    reading.read_page(store, first)
    extract.extract_document(store, 1)
    view = review_view(store, 1, ines.id)
    assert view.state == "in review"
    assert [check.message for check in view.page_checks] == ["Page 2 could not be read: it is torn."]
    assert status(store).review == 1


def test_a_batch_has_its_control_total(store: Store, ines: SignedIn) -> None:
    batch = drop(store, ines, "moewenbek-01.pdf", "brevanne-01.pdf")
    read_all(store)
    assert batch_view(store, batch).control.message == ""
    with pytest.raises(NotDone, match="“much” is not an amount"):
        set_control(store, batch, "2", "grand_total", "much", ines.id)
    with pytest.raises(NotDone, match="which field"):
        set_control(store, batch, "", "", "5", ines.id)
    set_control(store, batch, "3", "grand_total", "23,998.45", ines.id)
    control = batch_view(store, batch).control
    assert control.message == "2 of 3 documents; Total makes 23,998.45"
    assert not control.held
    set_control(store, batch, "2", "grand_total", "23,998.45", ines.id)
    assert batch_view(store, batch).control.held
    set_control(store, batch, "", "", "", ines.id)
    assert batch_view(store, batch).control.message == "", "nothing said takes it back"


def test_names_are_never_taken_twice_and_a_broken_delivery_is_not_doubled(
    store: Store, ines: SignedIn, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    drop(store, ines, "brevanne-01.pdf", "brevanne-01.pdf")
    read_all(store)
    twice = card(store, 2, "grand_total", ines).failed[0].check
    for check in (twice, "not_scanned_again"):
        desk.waive(store, seen(store, 2, ines), check)
    desk.done(store, seen(store, 2, ines))
    breaks = [True]
    real = FolderFiles.rewrite

    def rewrite(folder: FolderFiles, path: PurePosixPath, change: Callable[[bytes], bytes]) -> None:
        real(folder, path, change)
        if path.suffix == ".csv" and breaks:
            breaks.pop()
            raise Refused(f"{path} cannot be added to: no space left on device")

    monkeypatch.setattr(FolderFiles, "rewrite", rewrite)
    assert deliver_all(store, tmp_path) == [False, True]
    assert state(store, 1) == DocumentState.STUCK
    assert "no space left" in (batch_view(store, 1).documents[0].problem or "")
    assert status(store).stuck == 1
    deliveries.deliver_again(store, 1, ines.id)
    assert deliver_all(store, tmp_path) == [True, False]
    names = sorted(path.name for path in (tmp_path / LANE / "2026-08").iterdir())
    assert names == [
        "Ateliers Portuaires de Brévanne SARL F2600178 (2).pdf",
        "Ateliers Portuaires de Brévanne SARL F2600178.pdf",
    ]
    assert sorted(row["Document"] for row in rows_of(tmp_path)) == ["D1", "D2"]


def test_a_folder_keeps_inside_and_writes_over_nothing(tmp_path: Path) -> None:
    folder = FolderFiles(tmp_path / "out", tmp_path / "locks")
    folder.put(PurePosixPath("a/b.pdf"), b"one")
    folder.put(PurePosixPath("a/b.pdf"), b"one")
    with pytest.raises(Taken):
        folder.put(PurePosixPath("a/b.pdf"), b"two")
    assert (tmp_path / "out/a/b.pdf").read_bytes() == b"one"
    (tmp_path / "out/away").symlink_to(tmp_path)
    for outside in ("../c.pdf", "/etc/c.pdf", "away/c.pdf"):
        with pytest.raises(Refused, match="outside the destination"):
            folder.put(PurePosixPath(outside), b"x")
    assert [path.name for path in (tmp_path / "out/a").iterdir()] == ["b.pdf"]


def test_originals_are_never_changed(store: Store, ines: SignedIn, demo: Path, tmp_path: Path) -> None:
    drop(store, ines, "bight-01.tif")
    read_all(store)
    with store.transaction() as session:
        document = session.get_one(Document, 1)
        page = session.get_one(Page, 1)
        assert page.image
        assert document.version > 1
    from zestpail.store.tables import ArrivedFile

    with store.transaction() as session:
        assert store.blobs.get(session.get_one(ArrivedFile, 1).blob) == (demo / "bight-01.tif").read_bytes()


def test_steps_that_are_given_up_are_told_to_a_person(store: Store, ines: SignedIn) -> None:
    batch = drop(store, ines, "brevanne-01.pdf", "bight-04.pdf", "moewenbek-01.pdf")
    reading.refuse_file(store, 1, "It broke off.")
    reading.open_file(store, 1)  # too late: it is refused
    reading.open_file(store, 2)
    extract.leave_to_person(store, 1, "Finding broke off.")
    view = review_view(store, 1, ines.id)
    assert (view.doubtful, [check.message for check in view.page_checks]) == (12, ["Finding broke off."])
    reading.open_file(store, 3)
    reading.read_page(store, 2)
    extract.extract_document(store, 2)
    deliveries.refuse(store, 2, "Delivering broke off.")
    assert state(store, 2) == DocumentState.STUCK
    assert batch_view(store, batch).files[0].problem == "It broke off."
    with pytest.raises(NotDone, match=r"huge\.pdf has 300 MB; at most 200 MB are taken"):
        arrivals.may_arrive("../huge.pdf", 300_000_000)


class Outgoing:
    """Sends nothing, twice tells why, and keeps what it is given."""

    def __init__(self) -> None:
        self.sent: list[Parcel] = []
        self.problems = ["the server does not answer"]

    def send(self, parcel: Parcel) -> None:
        if self.problems:
            raise Refused(self.problems.pop())
        self.sent.append(parcel)


def test_what_a_sheet_has_sent_goes_only_where_the_letter_lets_it(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    batch = drop(store, ines, "bight-02.pdf")
    read_all(store)
    with store.transaction() as session:
        document = session.get_one(Document, 1)
        document.origin = document.origin.model_copy(update={"mail": "Agent@grey-heron.example"})
        lane = lane_of_key(session, LANE)
        amend(lane, destinations=(*lane.settings.destinations, MailDestination(allowed=("@grey-heron.example",))))
    post = Outgoing()
    assert not deliveries.deliver(store, tmp_path, 1, post)
    assert (batch_view(store, batch).documents[0].problem, state(store, 1)) == (
        "the server does not answer", DocumentState.STUCK,
    )  # fmt: skip
    deliveries.deliver_again(store, 1, ines.id)
    assert deliveries.deliver(store, tmp_path, 1, post)
    (parcel,) = post.sent
    assert (parcel.to, parcel.files[0][0]) == ("Agent@grey-heron.example", "Bight & Bollard Ltd BB-20217.pdf")
    assert len(rows_of(tmp_path)) == 1, "filed once, however often it was tried to be sent"
    assert batch_view(store, batch).documents[0].receipts[1].mail == parcel.to
    with pytest.raises(Refused, match="no server for outgoing"):
        SmtpPost("", "us").send(parcel)
    with pytest.raises(Refused, match="does not answer"):
        SmtpPost("127.0.0.1:1", "us@here.example").send(parcel)
    with pytest.raises(Refused, match="is not one"):
        SmtpPost("127.0.0.1:1", "us@here.example").send(replace(parcel, subject="a\nBcc: all@there.example"))
    with pytest.raises(NotDone, match=r"x@y\.example is an address that the lane does not allow"):
        print_sheets(store, LANE, "", [], 1, "A4", "x@y.example")
    with store.transaction() as session:
        lane_settings = lane_of_key(session, LANE).settings
    allowed = [
        lane_settings.may_mail(to) for to in ("a@grey-heron.example", "a@heron.example", "a@grey-heron.example.org", "")
    ]
    assert allowed == [True, False, False, False]


def test_a_destination_that_fails_neither_holds_up_nor_repeats_another(
    store: Store, ines: SignedIn, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    with store.transaction() as session:
        lane = lane_of_key(session, LANE)
        assert lane.settings.folder
        archive = lane.settings.folder.model_copy(update={"id": "archive", "folder": "archive", "csv": "archive.csv"})
        amend(lane, destinations=(archive, lane.settings.folder))
    batch = drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    puts: list[str] = []
    real = FolderFiles.put

    def put(folder: FolderFiles, path: PurePosixPath, data: bytes, properties: object) -> None:
        puts.append(folder.root.name)
        if folder.root.name == "archive" and puts.count("archive") == 1:
            raise Refused("the archive is not there")
        real(folder, path, data)

    monkeypatch.setattr(FolderFiles, "put", put)
    assert not deliveries.deliver(store, tmp_path, 1)
    (document,) = batch_view(store, batch).documents
    assert (document.problem, [receipt.file.split("/")[0] for receipt in document.receipts]) == (
        "the archive is not there", [LANE],
    )  # fmt: skip
    assert state(store, 1) == DocumentState.STUCK
    deliveries.deliver_again(store, 1, ines.id)
    assert deliveries.deliver(store, tmp_path, 1)
    assert puts == ["archive", LANE, "archive"], "what was taken is not sent again"
    assert len(list(tmp_path.rglob("*.pdf"))) == 2
    (document,) = batch_view(store, batch).documents
    assert (document.problem, len(document.receipts), state(store, 1)) == (None, 2, DocumentState.DELIVERED)
