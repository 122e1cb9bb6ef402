"""What goes out is what is in force: after taking back, after corrections, after changes of the lane."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path, PurePosixPath

import pytest
from openpyxl import load_workbook

from tests.desk.flow import LANE, drop, ids, jobs, read_all, rows_of, seen, state
from zestpail.core.reading.geometry import around
from zestpail.core.reading.opening import open_page
from zestpail.delivery import FolderFiles, MailDestination, Parcel, Refused
from zestpail.desk.batches import page_edits
from zestpail.desk.batches.batch import batch_view
from zestpail.desk.delivery import deliveries
from zestpail.desk.documents.context import amend, lane_of_key
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.lanes import letter
from zestpail.desk.review import desk
from zestpail.store import Store
from zestpail.store.queries.deliveries import deliveries_of
from zestpail.store.queries.documents import pages_of
from zestpail.store.states import DocumentState
from zestpail.store.tables import Document


class Post:
    """Keeps what it is given."""

    def __init__(self) -> None:
        self.sent: list[Parcel] = []

    def send(self, parcel: Parcel) -> None:
        self.sent.append(parcel)


@pytest.fixture
def full(monkeypatch: pytest.MonkeyPatch) -> list[bool]:
    """As long as there is something in it, no row can be written."""
    real, is_full = FolderFiles.rewrite, [True]

    def rewrite(folder: FolderFiles, path: PurePosixPath, change: Callable[[bytes], bytes]) -> bool:
        if is_full:
            raise Refused(f"{path} cannot be added to: no space left on device")
        return real(folder, path, change)

    monkeypatch.setattr(FolderFiles, "rewrite", rewrite)
    return is_full


def black_out(store: Store, person: SignedIn, word: str) -> None:
    with store.transaction() as session:
        (page,) = pages_of(session, 1)
    where = [one.box for one in reading_of(store, page).words if one.text == word]
    if where:  # it is not yet
        page_edits.black_out(store, page.id or 0, around(where).grown(2), person.id)
        read_all(store)


def words_in(pdf: Path) -> set[str]:
    return {word.text for word in open_page(pdf.read_bytes(), 0).layer}


def trail(store: Store, batch: int) -> list[str]:
    return [row.what for row in batch_view(store, batch).trail]


def test_a_stuck_document_that_is_taken_back_goes_out_corrected(
    store: Store, ines: SignedIn, tmp_path: Path, full: list[bool]
) -> None:
    batch = drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    assert not deliveries.deliver(store, tmp_path, 1)
    (early,) = tmp_path.rglob("*.pdf")
    assert "Brévanne" in words_in(early)
    with store.transaction() as session:
        (delivery,) = deliveries_of(session, 1)
        plan = delivery.plan
    assert plan
    assert store.blobs.holds(plan.pdf)
    desk.back_to_review(store, 1, ines.id)
    assert jobs(store)[-1] == ("take_out", {"document_id": 1})
    deliveries.take_out(store, tmp_path, 1)
    assert (list(tmp_path.rglob("*.pdf")), store.blobs.holds(plan.pdf)) == ([], False)
    assert trail(store, batch)[0] == "delivery_removed"
    black_out(store, ines, "Brévanne")
    assert state(store, 1) == DocumentState.REVIEW
    desk.enter(store, seen(store, 1, ines), "invoice_number", "F-CORRECTED")
    for name in ("seller_name", "buyer_name"):
        desk.enter(store, seen(store, 1, ines), name, "Ateliers")
    desk.done(store, seen(store, 1, ines))
    full.clear()
    assert deliveries.deliver(store, tmp_path, 1)
    (written,) = tmp_path.rglob("*.pdf")
    assert (written.name, "Brévanne" in words_in(written)) == ("Ateliers F-CORRECTED.pdf", False)
    assert [row["Invoice number"] for row in rows_of(tmp_path)] == ["F-CORRECTED"]


def test_what_is_taken_back_while_it_is_sent_does_not_go_out(
    store: Store, ines: SignedIn, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    real = deliveries._plan

    def plan_and_then(*given: object) -> object:
        planned = real(*given)  # type: ignore[arg-type]
        monkeypatch.setattr(deliveries, "_plan", real)
        desk.back_to_review(store, 1, ines.id)
        desk.enter(store, seen(store, 1, ines), "invoice_number", "LATE")
        desk.done(store, seen(store, 1, ines))
        return planned

    monkeypatch.setattr(deliveries, "_plan", plan_and_then)
    assert deliveries.deliver(store, tmp_path, 1)
    assert [row["Invoice number"] for row in rows_of(tmp_path)] == ["LATE"]
    (written,) = tmp_path.rglob("*.pdf")
    assert "LATE" in written.name

    def taken_back_meanwhile(*_: object) -> None:
        with pytest.raises(NotDone, match="being delivered at this moment"):
            desk.back_to_review(store, 2, ines.id)

    drop(store, ines, "moewenbek-01.pdf")
    read_all(store)
    monkeypatch.setattr(FolderFiles, "put", taken_back_meanwhile)
    assert deliveries.deliver(store, tmp_path, 2)


def test_one_value_that_is_too_long_holds_up_no_other_document(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    batch = drop(store, ines, "brevanne-01.pdf", "moewenbek-01.pdf")
    read_all(store)
    desk.back_to_review(store, 1, ines.id)
    desk.enter(store, seen(store, 1, ines), "seller_name", "much " * 28_000)
    desk.done(store, seen(store, 1, ines))
    assert [deliveries.deliver(store, tmp_path, number) for number in (1, 2)] == [False, True]
    problem = batch_view(store, batch).documents[0].problem or ""
    assert problem.startswith("“Supplier” has 139,999 characters, and a cell of a spreadsheet takes 32,767.")
    assert [row["Document"] for row in rows_of(tmp_path)] == ["D2"]


def test_a_changed_folder_frees_what_was_stuck_and_mails_nothing_twice(
    store: Store, ines: SignedIn, tmp_path: Path
) -> None:
    with store.transaction() as session:
        lane = lane_of_key(session, LANE)
        amend(lane, destinations=(*lane.settings.destinations, MailDestination(allowed=("@grey-heron.example",))))
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    with store.transaction() as session:
        document = session.get_one(Document, 1)
        document.origin = document.origin.model_copy(update={"mail": "agent@grey-heron.example"})
    (tmp_path / LANE).write_text("in the way")
    post = Post()
    assert not deliveries.deliver(store, tmp_path, 1, post)
    form = letter.letter_view(store, LANE).form
    letter.change_letter(store, LANE, "delivery", form.model_copy(update={"folder": "elsewhere"}), ines)
    letter.put_in_force(store, LANE, ines.id)
    assert (state(store, 1), jobs(store)[-1]) == (DocumentState.SETTLED, ("deliver", {"document_id": 1}))
    assert deliveries.deliver(store, tmp_path, 1, post)
    (written,) = tmp_path.rglob("*.pdf")
    assert (written.relative_to(tmp_path).parts[0], len(post.sent)) == ("elsewhere", 1)


def test_a_delivered_document_is_corrected_and_delivered_again(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    batch = drop(store, ines, "brevanne-01.pdf", "moewenbek-01.pdf")
    read_all(store)
    assert all(deliveries.deliver(store, tmp_path, number) for number in ids(store, Document))
    desk.back_to_review(store, 1, ines.id)
    desk.done(store, seen(store, 1, ines))
    assert deliveries.deliver(store, tmp_path, 1)
    assert len(batch_view(store, batch).documents[0].receipts) == 1, "nothing was changed, and nothing is sent"
    desk.back_to_review(store, 1, ines.id)
    desk.enter(store, seen(store, 1, ines), "invoice_number", "F2600179")
    desk.done(store, seen(store, 1, ines))
    assert deliveries.deliver(store, tmp_path, 1)
    first, second = batch_view(store, batch).documents[0].receipts
    assert (first.version, second.version) == (1, 2)
    assert second.file.endswith("SARL F2600179 version 2.pdf")
    assert all((tmp_path / receipt.file).exists() for receipt in (first, second)), "the old one is kept"
    assert next((row["Document"], row["Invoice number"]) for row in rows_of(tmp_path)) == ("D1", "F2600179")
    sheet = load_workbook(tmp_path / LANE / f"{LANE}.xlsx").worksheets[0]
    assert [row[0].value for row in sheet.iter_rows(min_row=2)] == ["D1", "D2"]
    assert "F2600179" in {cell.value for cell in sheet[2]}
    assert trail(store, batch).count("reopened") == 2
