"""A pile becomes documents: cut when all is read, looked at, mended on the ribbon, filed by what its sheets say."""

from __future__ import annotations

import io
from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image, ImageSequence
from sqlmodel import func, select

from demo.board import vessel_calls
from tests.desk.flow import deliver_all, ids, jobs, read_all, seen, state
from zestpail.core.document_type import load_type
from zestpail.core.problems import Unreadable
from zestpail.core.reading.read import ReadPage
from zestpail.core.separation import Separation
from zestpail.desk.batches import page_edits, page_moves, several_pages
from zestpail.desk.batches.batch import batch_view
from zestpail.desk.batches.ribbon import StackView, ribbon_view
from zestpail.desk.batches.today import today
from zestpail.desk.delivery.outlets import outlets_of
from zestpail.desk.documents.context import amend, set_reading, set_up_lane
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake import arrivals
from zestpail.desk.lanes import trials
from zestpail.desk.pipeline import reading, split
from zestpail.desk.pipeline.page_pipeline import PageWanted
from zestpail.desk.review import desk
from zestpail.desk.review.view import review_view
from zestpail.store import Store
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Document, Page
from zestpail.store.trail_tables import Event

DEMO = Path(__file__).parents[2] / "demo"
SIDES = 12
"""A cover sheet, a crew list of two pages and a stores list, each with its separator and all with their backs."""


def begin(store: Store, ines: SignedIn, **separation: str) -> int:
    """The demo's lane with the first sides of its pile, read but not cut."""
    lane_settings = vessel_calls()
    rules = Separation.model_validate({**lane_settings.separation.model_dump(), **separation})
    kinds = [load_type(str(file)) for file in sorted((DEMO / "types").glob("*.json"))]
    set_up_lane(store, "vessel-calls", "Vessel calls", lane_settings.model_copy(update={"separation": rules}), kinds)
    out = io.BytesIO()
    with Image.open(DEMO / "files" / "vessel-calls" / "vessel-calls-01.tif") as whole:
        sides = [side.copy() for side, _ in zip(ImageSequence.Iterator(whole), range(SIDES), strict=False)]
    sides[0].save(out, "TIFF", save_all=True, append_images=sides[1:], compression="group4", dpi=(200, 200))
    batch = arrivals.arrive(store, "vessel-calls", "pile.tif", out.getvalue(), ines.id, None)
    reading.open_file(store, 1)
    for page_id in ids(store, Page):
        reading.read_page(store, page_id)
    return batch


def lies(store: Store, batch: int) -> list[tuple[str, list[int]]]:
    """The ribbon: by stretch what it is, and its pages as they lie."""
    (stack,) = ribbon_view(store, batch).stacks
    return [(stretch.title, [tile.id for tile in stretch.tiles]) for stretch in stack.stretches]


def the_pile(store: Store, batch: int) -> StackView:
    return ribbon_view(store, batch).stacks[0]


def test_a_pile_is_cut_once_and_filed_by_its_sheets(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    batch = begin(store, ines)
    assert [name for name, _ in jobs(store)].count("split") == 1, "by the page that was read last"
    assert lies(store, batch)[0][0] == "not split yet"
    assert (today(store).batches[0].waiting, ids(store, Document)) == (SIDES, [])
    with pytest.raises(NotDone, match="still being read"):
        page_moves.leave_out(store, 1, ines.id)
    for _ in range(2):
        split.separate_file(store, 1)
    assert ids(store, Document) == [1, 2], "cut a second time it stays as it is"
    read_all(store)
    assert deliver_all(store, tmp_path) == [True, True]
    folder = tmp_path / "vessel-calls"
    assert {str(path.relative_to(folder)) for path in folder.rglob("*.pdf")} == {
        "Maren Tide/2026/03/Crew list.pdf", "Maren Tide/2026/03/Ship's stores declaration.pdf",
    }  # fmt: skip
    assert (folder / "vessel-calls.csv").read_text().count("Maren Tide") == 1
    assert (folder / "vessel-calls-stores-list.csv").exists(), "each type has rows of its own"
    card = next(c for c in review_view(store, 1, ines.id).cards if c.key == "vessel")
    assert (card.value, card.source) == ("Maren Tide", "given by a sheet or barcode: Maren Tide")
    (file,) = batch_view(store, batch).files
    assert dict(file.left_out) == {"blank": 6, "separator sheet": 2, "cover sheet": 1}
    assert [len(document.pages) for document in file.documents] == [2, 1]
    with pytest.raises(NotDone, match="Document 1 is delivered"):
        page_moves.split_before(store, 7, ines.id)
    assert today(store).batches[0].finished
    with store.transaction() as session:
        read = session.exec(select(func.count()).select_from(Event).where(Event.what == "page_read")).one()
    assert read == SIDES, "each page is read once"


def test_mending_and_taking_back(store: Store, ines: SignedIn) -> None:
    batch = begin(store, ines, goes_on="after_look")
    split.separate_file(store, 1)
    assert the_pile(store, batch).waits_for_look
    assert not any(name == "extract" for name, _ in jobs(store)), "nothing goes on before somebody has looked"
    before = lies(store, batch)
    assert before == [
        ("left out", [1, 2, 3, 4]), ("Crew list", [5]), ("left out", [6]), ("Crew list", [7]),
        ("left out", [8, 9, 10]), ("Ship's stores declaration", [11]), ("left out", [12]),
    ]  # fmt: skip
    gestures: list[Callable[[], str]] = [
        lambda: page_moves.split_before(store, 7, ines.id),
        lambda: page_moves.join_before(store, 11, ines.id),
        lambda: page_moves.take_in(store, 2, ines.id),
        lambda: page_moves.leave_out(store, 5, ines.id),
        lambda: page_moves.move_page(store, 11, 5, "before", ines.id),
        lambda: page_moves.move_page(store, 7, 12, "after", ines.id),
        lambda: page_edits.turn(store, 11, 90, ines.id),
    ]
    lain = [before]
    for gesture in gestures:
        gesture()
        lain.append(lies(store, batch))
    assert [pages for _, pages in lain[1]] == [pages for _, pages in before], "a cut moves nothing"
    assert [state(store, number) for number in (1, 2, 3)] == [
        DocumentState.READING, DocumentState.DISSOLVED, DocumentState.DISSOLVED,
    ], "all pages went to the first document"  # fmt: skip
    reading.read_page(store, 11)
    with store.transaction() as session:
        page = session.get_one(Page, 11)
        assert page.width > page.height, "it lies on its side now"
    for message, old in zip(("turned page 5", "moved page 8"), reversed(lain[:-1]), strict=False):
        assert page_moves.undo(store, batch, ines.id) == message
        assert [pages for _, pages in lies(store, batch)] == [pages for _, pages in old]
    with store.transaction() as session:
        assert session.get_one(Page, 11).width < session.get_one(Page, 11).height, "its reading is back too"
    for _ in range(5):
        page_moves.undo(store, batch, ines.id)
    assert lies(store, batch) == before
    with pytest.raises(NotDone, match="nothing to undo"):
        page_moves.undo(store, batch, ines.id)
    for wrong, message in (
        (lambda: page_moves.split_before(store, 5, ines.id), "begins at this page already"),
        (lambda: page_moves.join_before(store, 5, ines.id), "no document before"),
        (lambda: page_moves.leave_out(store, 1, ines.id), "belongs to no document"),
        (lambda: page_edits.turn(store, 5, 45, ines.id), "by quarters"),
    ):
        with pytest.raises(NotDone, match=message):
            wrong()
    with pytest.raises(Missing):
        page_edits.turn(store, 4711, 90, ines.id)
    split.go_on(store, 1, ines.id)
    with pytest.raises(NotDone, match="gone on already"):
        split.go_on(store, 1, ines.id)
    read_all(store)
    assert [state(store, number) for number in (1, 2)] == [DocumentState.SETTLED] * 2


def test_a_type_that_the_lane_does_not_know_is_told(store: Store, ines: SignedIn) -> None:
    begin(store, ines)
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, 1)
        lane = split.lane_of_file(session, file)
        amend(lane, other_types=())
    split.separate_file(store, 1)
    read_all(store)
    view = review_view(store, 2, ines.id)
    assert view.page_checks[0].message == "Its sheet asks for the type stores-list, with which this lane does not read."


def test_who_has_a_document_in_hand_keeps_it_and_what_is_lost_is_told(
    store: Store, ines: SignedIn, tomas: SignedIn
) -> None:
    begin(store, ines)
    with store.transaction() as session:
        lane = split.lane_of_file(session, session.get_one(ArrivedFile, 1))
        amend(lane, other_types=())  # so that the stores list goes to review
        lane.draft = lane.settings.model_copy(update={"review_below": 0.5})
    set_reading(store, "vessel-calls", "best", ines.id)
    with store.transaction() as session:
        lane = split.lane_of_file(session, session.get_one(ArrivedFile, 1))
        assert lane.draft
        assert (lane.draft.reading, lane.draft.review_below) == ("best", 0.5), "the draft does not undo it"
    split.separate_file(store, 1)
    read_all(store)
    desk.hold(store, 2, tomas.id)
    desk.enter(store, seen(store, 2, tomas), "number", "QH-1")
    with pytest.raises(NotDone, match="Tomas Brandt is working on document 2"):
        page_edits.turn(store, 11, 90, ines.id)
    assert page_edits.turn(store, 11, 90, tomas.id) == "What was settled by hand in document 2 is found anew."


def test_a_trial_says_what_would_happen_and_goes_on_without_a_page(
    store: Store, ines: SignedIn, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    begin(store, ines)
    usual = trials.read_opened

    def opened(data: bytes, wanted: PageWanted) -> ReadPage:
        if wanted.index == 6:
            raise Unreadable("The picture is damaged.")
        return usual(data, wanted)

    monkeypatch.setattr(trials, "read_opened", opened)
    with store.transaction() as session:
        stack = store.blobs.get(session.get_one(ArrivedFile, 1).blob)
    trials.run_trial(store, trials.begin_trial(store, "vessel-calls", "pile.tif", stack, ines.id))
    trial = trials.trial_of(store, "vessel-calls", outlets_of(store, tmp_path).folder)
    assert trial and trial.done
    assert [page["problem"] for page in trial.result["pages"] if page["problem"]] == ["The picture is damaged."]
    crew, stores = trial.result["documents"]
    assert (trial.names[0].new, crew["pages"], crew["doubts"][0]) == (
        "Maren Tide/2026/03/Crew list.pdf", 2, "Page 2 could not be read",
    )  # fmt: skip
    assert (stores["type"], stores["doubts"]) == ("Ship's stores declaration", [])
    assert [d.id for d in batch_view(store, 1).documents] == [], "nothing came of it"


def test_several_pages_at_once_are_one_step(store: Store, ines: SignedIn) -> None:
    batch = begin(store, ines, goes_on="after_look")
    split.separate_file(store, 1)
    before = lies(store, batch)
    several_pages.move_several(store, [11, 7], 5, "before", ines.id)
    assert lies(store, batch)[:2] == [("left out", [1, 2, 3, 4]), ("Crew list", [7, 11, 5])], "in the order they lay in"
    assert page_moves.undo(store, batch, ines.id) == "moved 2 pages"
    assert lies(store, batch) == before
    several_pages.leave_out_several(store, [5, 6, 7], ines.id)
    assert lies(store, batch)[0] == ("left out", list(range(1, 11))), "the blank side between was left out already"
    several_pages.take_in_several(store, [8, 9], ines.id)
    assert page_moves.undo(store, batch, ines.id) == "took 2 pages back in"
    assert page_moves.undo(store, batch, ines.id) == "left out 3 pages"
    assert lies(store, batch) == before
    several_pages.turn_several(store, [5, 7], 90, ines.id)
    for page_id in (5, 7):
        reading.read_page(store, page_id)
    with store.transaction() as session:
        assert all(session.get_one(Page, at).width > session.get_one(Page, at).height for at in (5, 7)), "both turned"
    assert page_moves.undo(store, batch, ines.id) == "turned 2 pages"
    with pytest.raises(NotDone, match="another page"):
        several_pages.move_several(store, [5, 7], 7, "after", ines.id)
    with pytest.raises(Missing):
        several_pages.turn_several(store, [5, 4711], 90, ines.id)
    assert lies(store, batch) == before
