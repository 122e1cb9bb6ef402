"""What a lane takes documents for: doubts wait for a person, decisions teach it, two people come after each other."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from sqlmodel import select

from demo.board import harbour_binders
from tests.desk.flow import ids, jobs, state
from zestpail.core.document_type import load_type
from zestpail.core.separation import EachFile, Separation
from zestpail.desk.batches import page_moves
from zestpail.desk.documents.context import lane_of_key, set_up_lane
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake import arrivals
from zestpail.desk.lanes import letter
from zestpail.desk.lanes.sorting import edits, exchange, heap, measured, samples
from zestpail.desk.lanes.sorting.table import sorting_view
from zestpail.desk.pipeline import extract, reading, sort, split
from zestpail.desk.review import sorting
from zestpail.store import Store
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Document, Page, SortingSample, TypeRevision

DEMO = Path(__file__).parents[2] / "demo"
SAMPLES = DEMO / "files" / "binders" / "samples"
LANE, KINDS = "binders", ("waste-receipt", "insurance-letter", "incident-report")


@pytest.fixture
def lane(store: Store, ines: SignedIn) -> str:
    """A lane that sorts into three types, three samples each, as it is active."""
    kinds = [load_type(str(DEMO / "types" / f"{key}.json")) for key in (*KINDS, "cover-page")]
    set_up_lane(store, LANE, "Binders", harbour_binders(), kinds)
    for key in KINDS:
        edits.add_type(store, LANE, key, ines.id)
        for file in sorted((SAMPLES / key).iterdir())[:3]:
            samples.read_sample(store, samples.add_file(store, LANE, key, file.name, file.read_bytes(), ines.id))
    letter.put_in_force(store, LANE, ines.id)
    return LANE


def arrive(store: Store, ines: SignedIn, *files: Path) -> None:
    batch = None
    for file in files:
        batch = arrivals.arrive(store, LANE, file.name, file.read_bytes(), ines.id, batch)
    for file_id in ids(store, ArrivedFile):
        reading.open_file(store, file_id)
    for page_id in ids(store, Page):
        reading.read_page(store, page_id)
    for file_id in ids(store, ArrivedFile):
        split.separate_file(store, file_id)


def types(store: Store) -> dict[int, str]:
    with store.transaction() as session:
        rows = session.exec(select(Document.id, TypeRevision.key).join(TypeRevision))
        return {number or 0: key for number, key in rows}


def test_sure_ones_are_read_and_strangers_wait(store: Store, ines: SignedIn, lane: str) -> None:
    arrive(
        store,
        ines,
        SAMPLES / "waste-receipt" / "waste-receipt-4.tif",
        DEMO / "files" / "hull-surveys" / "hull-survey-03.tif",
    )
    receipt, stranger = ids(store, Document)[:2]
    assert types(store)[receipt] == "waste-receipt" and state(store, receipt) == DocumentState.READING
    assert ("extract", {"document_id": receipt}) in jobs(store)
    assert state(store, stranger) == DocumentState.SORTING
    extract.extract_document(store, stranger)
    assert state(store, stranger) == DocumentState.SORTING, "nothing is found on it before somebody says what it is"
    view = sorting.question_view(store, stranger, ines.id)
    assert {one.key for one in view.likely} >= set(KINDS) and view.likely[0].sample and view.pages[0].thumbnail
    assert [one.number for one in view.likely] == list(range(1, len(view.likely) + 1))


def test_what_is_decided_teaches_if_the_person_agrees(store: Store, ines: SignedIn, lane: str) -> None:
    arrive(store, ines, DEMO / "files" / "hull-surveys" / "hull-survey-03.tif")
    document = ids(store, Document)[0]
    before = sorting_view(store, lane)
    assert sorting.decide_type(store, document, "incident-report", keep=True, person_id=ines.id) == "Incident report"
    assert types(store)[document] == "incident-report" and state(store, document) == DocumentState.READING
    after = sorting_view(store, lane)
    assert len(after.cards) == len(before.cards) + 1 and after.active
    with pytest.raises(NotDone, match="said already what it is"):
        sorting.decide_type(store, document, "waste-receipt", keep=False, person_id=ines.id)
    extract.extract_document(store, document)
    sorting.ask_again(store, document, ines.id)
    assert state(store, document) == DocumentState.SORTING
    sorting.decide_type(store, document, "incident-report", keep=False, person_id=ines.id)
    assert len(sorting_view(store, lane).cards) == len(after.cards)


def test_pages_cut_by_hand_are_told_anew(store: Store, ines: SignedIn, lane: str) -> None:
    arrive(store, ines, SAMPLES / "incident-report" / "incident-report-4.tif")
    first, second = ids(store, Page)[:2]
    page_moves.split_before(store, second, ines.id)
    waiting = [job for job in jobs(store) if job[0] == "sort"]
    assert len(waiting) == 2
    for _, arguments in waiting:
        sort.sort_document(store, arguments["document_id"])
    assert all(
        one in (DocumentState.SORTING, DocumentState.READING) for one in (state(store, n) for n in ids(store, Document))
    )
    page_moves.join_before(store, second, ines.id)
    sort.sort_document(store, ids(store, Document)[0])
    assert types(store)[ids(store, Document)[0]] == "incident-report"
    assert first


def test_each_file_of_another_type_and_unknown_ones_as_a_type_of_their_own(
    store: Store, ines: SignedIn, lane: str
) -> None:
    edits.add_type(store, lane, "cover-page", ines.id)
    edits.set_unknown(store, lane, "as_type", "cover-page", "never", ines.id)
    letter.put_in_force(store, lane, ines.id)
    with store.transaction() as session:
        one = lane_of_key(session, lane)
        one.settings = one.settings.model_copy(update={"separation": Separation(documents=EachFile())})
    stranger = DEMO / "files" / "supplier-invoices" / "bight-01.tif"
    arrive(store, ines, SAMPLES / "insurance-letter" / "insurance-letter-4.tif", stranger)
    kept, other = ids(store, Document)
    assert types(store)[kept] == "insurance-letter"
    assert (types(store)[other], state(store, other)) in [
        ("cover-page", DocumentState.READING), (types(store)[other], DocumentState.SORTING),
    ]  # fmt: skip


def test_two_people_show_samples_at_once_and_all_can_be_undone(store: Store, ines: SignedIn, lane: str) -> None:
    files = sorted((SAMPLES / "survey-certificate").iterdir())
    edits.add_type(store, lane, "cover-page", ines.id)

    def add(file: Path) -> int:
        return samples.add_file(store, lane, "cover-page", file.name, file.read_bytes(), ines.id)

    with ThreadPoolExecutor(4) as pool:
        numbers = set(pool.map(add, files))
    row = next(row for row in sorting_view(store, lane).rows if row.key == "cover-page")
    assert {card.id for card in row.cards} == numbers
    with pytest.raises(NotDone, match="among the samples already"):
        add(files[0])
    for _ in range(len(files) + 1):
        edits.undo(store, lane, ines.id)
    assert [row.key for row in sorting_view(store, lane).rows] == list(KINDS) and sorting_view(store, lane).active


def test_a_heap_a_file_and_a_measure(store: Store, ines: SignedIn, lane: str) -> None:
    file = SAMPLES / "waste-receipt" / "waste-receipt-4.tif"
    heap.add_to_heap(store, lane, file.name, file.read_bytes(), ines.id)
    samples.read_sample(store, ids(store, SortingSample)[-1])  # type: ignore[arg-type]
    (one,) = sorting_view(store, lane).heap
    assert one.type == "waste-receipt"
    heap.confirm(store, lane, {one.id: one.type}, ines.id)
    assert sorting_view(store, lane).heap == [] and not sorting_view(store, lane).active
    text = exchange.exported(store, lane)
    with pytest.raises(NotDone, match="is not a classifier"):
        exchange.imported(store, lane, "broken.json", b'{"format": "zestpail classifier 2"}', ines.id)
    exchange.imported(store, lane, "ours.json", text.encode(), ines.id)
    again = sorting_view(store, lane)
    assert [len(row.cards) for row in again.rows] == [4, 3, 3] and again.right == again.told == 10
    for key, name in (("waste-receipt", "waste-receipt-1.pdf"), ("unknown", "bight-01.tif")):
        path = next((DEMO / "files").rglob(name))
        number = samples.add_file(store, lane, key, name, path.read_bytes(), ines.id, test=True)
        samples.read_sample(store, number)
    seen = measured.measured(store, lane)
    assert [one.called for one in seen.results] == ["draft", "active"]
    assert seen.results[0].right.whole == 2 and "of 2" in seen.results[0].right.shown
    with pytest.raises(NotDone, match="with letters or figures"):
        edits.add_cue(store, lane, "waste-receipt", {"words": ["…"]}, ines.id)


def test_what_leaves_the_heap_or_the_tests_can_be_put_back(store: Store, ines: SignedIn, lane: str) -> None:
    file = SAMPLES / "waste-receipt" / "waste-receipt-4.tif"
    heap.add_to_heap(store, lane, file.name, file.read_bytes(), ines.id)
    samples.read_sample(store, ids(store, SortingSample)[-1])  # type: ignore[arg-type]
    before = sorting_view(store, lane).heap
    heap.throw_away(store, lane, before[0].id, ines.id)
    assert sorting_view(store, lane).heap == []
    assert edits.undo(store, lane, ines.id) == f"removed {file.name}"
    assert sorting_view(store, lane).heap == before
    heap.confirm(store, lane, {before[0].id: before[0].type}, ines.id)
    edits.undo(store, lane, ines.id)
    assert sorting_view(store, lane).heap == before and sorting_view(store, lane).active
    test = samples.add_file(store, lane, "unknown", "test.tif", file.read_bytes(), ines.id, test=True)
    samples.read_sample(store, test)
    seen = measured.measured(store, lane)
    samples.remove_test(store, lane, test, ines.id)
    assert measured.measured(store, lane).tests == []
    edits.undo(store, lane, ines.id)
    assert measured.measured(store, lane) == seen


def test_empty_pages_and_broken_files_are_no_samples(store: Store, ines: SignedIn, lane: str) -> None:
    for name, data in (("broken.pdf", b"%PDF-1.4 nothing"), ("note.txt", b"plain")):
        samples.read_sample(store, samples.add_file(store, lane, "waste-receipt", name, data, ines.id))
    row = next(row for row in sorting_view(store, lane).rows if row.key == "waste-receipt")
    assert sum(bool(card.problem) for card in row.cards) == 2 and row.told == 3
