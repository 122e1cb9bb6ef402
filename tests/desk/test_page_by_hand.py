"""Single pages by hand: what is blacked out is in no copy, pages lie in any pile, all of it is taken back."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import pikepdf
import pytest
from sqlmodel import select

from tests.desk.flow import deliver_all, drop, ids, jobs, read_all, state
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.preparation.cleaning import Cleaning
from zestpail.core.reading.preparation.edits import PageEdits
from zestpail.desk.batches import page_edits, page_moves
from zestpail.desk.batches.page_edits import PageView, page_view
from zestpail.desk.batches.ribbon import ribbon_view
from zestpail.desk.documents.context import amend, lane_of_key
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.pipeline import reading
from zestpail.desk.types import samples, starters
from zestpail.store import Store
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Document, FieldValue, Page, Sample


def arrived(store: Store, ines: SignedIn, *names: str) -> int:
    """Files that are read, with nothing found in them yet."""
    batch = drop(store, ines, *names)
    for number in ids(store, ArrivedFile):
        reading.open_file(store, number)
    for number in ids(store, Page):
        reading.read_page(store, number)
    return batch


def the_page(store: Store, page_id: int = 1) -> Page:
    with store.transaction() as session:
        return session.get_one(Page, page_id)


def words(store: Store, page_id: int = 1) -> str:
    return " ".join(word.text for word in reading_of(store, the_page(store, page_id)).words)


def box_round(store: Store, text: str) -> Box:
    return next(word.box for word in reading_of(store, the_page(store)).words if text in word.text)


def test_black_is_black_in_every_copy(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    batch = arrived(store, ines, "bight-02.pdf")
    account = next(w.text for w in reading_of(store, the_page(store)).words if w.text.startswith("XQ88"))
    before = the_page(store)
    page_edits.black_out(store, 1, box_round(store, account), ines.id)
    for name in (before.image, before.thumbnail, before.reading):
        assert name
        assert not store.blobs.holds(name), "what was read and drawn before is gone"
    view = page_view(store, batch, 1)
    assert (view.picture, view.open) == ("", False), "nothing is shown until it is read again"
    with pytest.raises(NotDone, match="being read"):
        page_edits.crop(store, 1, Box(10, 10, 100, 100), ines.id)
    read_all(store)
    assert account not in words(store)
    assert page_view(store, batch, 1).done[0].message == "1 place blacked out"
    sample = samples.add_from_batch(store, of_a_type(store, ines), 1, ines.id)
    with store.transaction() as session:
        carried = store.blobs.get(session.get_one(Sample, sample).blob)
    assert account not in str(open_page(carried, 0).layer), "nor does it travel with a sample"
    with store.transaction() as session:
        session.get_one(Document, 1).state = DocumentState.SETTLED
    assert deliver_all(store, tmp_path) == [True]
    (written,) = tmp_path.rglob("*.pdf")
    assert account not in str(open_page(written.read_bytes(), 0).layer)
    with pytest.raises(NotDone, match="Document 1 is delivered"):
        page_moves.undo(store, batch, ines.id)


def of_a_type(store: Store, ines: SignedIn) -> str:
    return starters.adopt(store, "supplier-invoice", ines.id)


def test_blacking_out_is_taken_back_and_a_late_reading_leaves_nothing(
    store: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch
) -> None:
    batch = arrived(store, ines, "bight-02.pdf")
    secret, box = "2,829.60", box_round(store, "2,829.60")
    page_edits.turn(store, 1, 90, ines.id)  # it is to be read again …
    saved: list[dict[str, Any]] = []
    usual = reading.read_and_keep

    def meanwhile(*read: object) -> dict[str, Any]:
        saved.append(usual(*read))  # type: ignore[arg-type]
        if len(saved) == 1:  # … and is changed while a worker reads it
            page_moves.undo(store, batch, ines.id)
            reading.read_page(store, 1)
            page_edits.black_out(store, 1, box, ines.id)
        return saved[-1]

    monkeypatch.setattr(reading, "read_and_keep", meanwhile)
    reading.read_page(store, 1)
    assert not any(store.blobs.holds(one[name]) for one in saved for name in ("image", "thumbnail", "reading"))
    read_all(store)
    assert secret not in words(store)
    assert page_moves.undo(store, batch, ines.id) == "blacked out a place on page 1"
    assert the_page(store).image is None, "its pictures are gone, so it is read from the file that arrived"
    read_all(store)
    assert secret in words(store)


def test_steps_crops_and_turns_count_from_how_the_page_stands(store: Store, ines: SignedIn) -> None:
    with store.transaction() as session:
        lane = lane_of_key(session, "supplier-invoices")
        amend(lane, cleaning=Cleaning(holes="filled", specks="removed"))
    batch = arrived(store, ines, "bight-02.pdf")

    def done() -> list[tuple[str, bool]]:
        view: PageView = page_view(store, batch, 1)
        return [(one.step, one.undone) for one in view.done]

    assert ("holes_filled", False) in done()
    page_edits.without_step(store, 1, "holes_filled", ines.id)
    reading.read_page(store, 1)
    assert ("holes_filled", True) in done()
    page_edits.crop(store, 1, box_round(store, "2,829.60").grown(20), ines.id)
    reading.read_page(store, 1)
    assert "BB-" not in words(store)
    for wrong, message in (("blacked_out", "cannot be undone"), ("painted", "cannot be undone")):
        with pytest.raises(NotDone, match=message):
            page_edits.without_step(store, 1, wrong, ines.id)
    with pytest.raises(NotDone, match="larger box"):
        page_edits.crop(store, 1, Box(5, 5, 6, 6), ines.id)
    page_edits.without_step(store, 1, "cropped", ines.id)
    reading.read_page(store, 1)
    page_edits.without_step(store, 1, "holes_filled", ines.id)
    reading.read_page(store, 1)
    assert ("holes_filled", False) in done()
    for _ in range(4):
        page_moves.undo(store, batch, ines.id)
        reading.read_page(store, 1)
    assert the_page(store).edits == PageEdits()


def test_notes_are_a_layer_of_their_own(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    batch = arrived(store, ines, "bight-02.pdf", "bight-03.jpg")
    who, before = (ines.id, ines.name), the_page(store).image
    page_edits.pin(store, 1, "note", Box(100, 100, 200, 140), "  ask for \n page 2 ", who)
    page_edits.pin(store, 2, "highlight", Box(100, 100, 200, 140), "", who)
    with pytest.raises(NotDone, match="needs some words"):
        page_edits.pin(store, 1, "note", Box(100, 100, 200, 140), " ", who)
    (noted,) = page_view(store, batch, 1).pinned
    assert (noted.text, noted.by, the_page(store).image) == ("ask for page 2", "Ines Okafor", before)
    tile = ribbon_view(store, batch).stacks[0].stretches[0].tiles[0]
    assert tile.edits == "1 noted"
    page_edits.unpin(store, 1, 0, ines.id)
    with pytest.raises(Missing):
        page_edits.unpin(store, 1, 0, ines.id)
    assert page_moves.undo(store, batch, ines.id) == "took a note off page 1"
    ways = ("annotations", "burnt_in")
    with store.transaction() as session:
        amend(lane_of_key(session, "supplier-invoices"), notes=ways[0])
    read_all(store)
    assert state(store, 1) == DocumentState.SETTLED, "a note asks nobody"
    assert deliver_all(store, tmp_path)[0]
    (written,) = tmp_path.rglob("Bight*BB-20217*.pdf")
    with pikepdf.open(io.BytesIO(written.read_bytes())) as pdf:
        assert str(pdf.pages[0].Annots[0].Contents) == "ask for page 2"
    message = page_edits.pin(store, 1, "highlight", Box(10, 10, 60, 60), "", who)
    assert message == "Document 1 has gone already; this is kept here only."


def test_pages_are_laid_into_other_piles(store: Store, ines: SignedIn) -> None:
    batch = arrived(store, ines, "dredgemoor-01.pdf", "bight-02.pdf", "bight-03.jpg")

    def lies() -> list[list[int]]:
        stacks = ribbon_view(store, batch).stacks
        return [[tile.id for stretch in stack.stretches for tile in stretch.tiles] for stack in stacks]

    first, second, third = lies()
    page_moves.join_before(store, second[0], ines.id)
    assert lies() == [[*first, *second], [], third]
    assert state(store, 2) == DocumentState.DISSOLVED
    assert "elsewhere" in ribbon_view(store, batch).stacks[1].message
    page_moves.move_page(store, first[1], third[0], "before", ines.id)
    assert lies() == [[first[0], *second], [], [first[1], *third]]
    page_moves.move_page(store, first[1], third[-1], "after", ines.id)
    page_edits.turn(store, first[1], 180, ines.id)
    page_edits.turn(store, second[0], 180, ines.id)
    asked = len([1 for name, _ in jobs(store) if name == "extract"])
    for number in (first[1], second[0]):
        reading.read_page(store, number)
    now = [arguments["document_id"] for name, arguments in jobs(store) if name == "extract"][asked:]
    assert now == [3, 1], "each document is captured when its own pages are read, whichever file they came from"
    for _ in range(5):
        page_moves.undo(store, batch, ines.id)
    assert lies() == [first, second, third]
    read_all(store)
    with store.transaction() as session:
        found = session.exec(select(FieldValue).where(FieldValue.key == "invoice_number")).all()
    assert len({value.value for value in found}) == 3, "each is its own document again"
