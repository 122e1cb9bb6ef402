"""A type carried elsewhere with its samples, labels taken back, and the same values wherever a type is used."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path

import pytest
from sqlmodel import select

from tests.desk.flow import ids
from tests.desk.type_flow import KEY, NOTES, at, numbers, rule_as_sent, ticket
from zestpail.core.document_type import load_type
from zestpail.core.evaluation.proof import prove
from zestpail.core.extraction.files import extract_file
from zestpail.core.reading.geometry import Box
from zestpail.core.writing.value_formats import ValueFormat, formatted
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake import arrivals
from zestpail.desk.lanes.first_lane import supplier_invoices
from zestpail.desk.pipeline import extract, reading
from zestpail.desk.types import drafts, import_export, samples
from zestpail.desk.types.bench import fields, landmarks
from zestpail.desk.types.bench.checks import add_check
from zestpail.desk.types.bench.computed_fields import ComputedForm, compute
from zestpail.desk.types.bench.view import bench_view
from zestpail.store import Store
from zestpail.store.queries.samples import samples_of
from zestpail.store.tables import ArrivedFile, CheckResult, Document, FieldValue, Lane, Page


def truths(store: Store, key: str) -> list[tuple[str, dict[str, object], str]]:
    with store.transaction() as session:
        return [(row.name, row.truth, row.role) for row in samples_of(session, key)]


def test_a_type_is_carried_with_its_samples_and_what_is_right_about_them(ready: Store, ines: SignedIn) -> None:
    key = ticket(ready, ines)
    fields.type_right(ready, at(ready, ines), 2, key, "")
    samples.set_role(ready, 2, "test")
    data = import_export.exported_with_samples(ready, KEY)
    other = import_export.bring_in(ready, data, ines.id)
    assert other == f"{KEY}-2"
    assert truths(ready, other) == truths(ready, KEY)
    assert drafts.draft_type(ready, other).fields == drafts.draft_type(ready, KEY).fields
    with zipfile.ZipFile(io.BytesIO(data)) as carried:
        names = carried.namelist()
        message = json.loads(carried.read("samples/1-fuel-note-06.pdf.truth.json"))
    assert (message["role"], message["fields"]) == ("training", {key: "FD-45088"})
    for spoilt, sentence in (
        (data[: len(data) // 2], "damaged, or locked"),
        (_changed(data, "type.json", None), "no type.json in this zip"),
        (_changed(data, names[2], b'{"fields": {"a": 3}}'), "holds no truth that can be read"),
        (_changed(data, names[2], b'{"fields": {"a": "\\u0000"}}'), "holds no truth that can be read"),
        (_changed(data, names[2], b'{"fields": {"a": "b"}, "places": {"a": [0, [0, 0, NaN, 1]]}}'), "holds no truth"),
        (data.replace(b"%PDF-1", b"%PDF-2", 1), "damaged, or locked"),
        (_changed(data, "type.json", b"{}"), "not a document type that can be read"),
        (b"[" * 100_000, "no JSON file"),
        (b" " * 3_000_000, "no document type is that long"),
    ):
        with pytest.raises(NotDone, match=sentence):
            import_export.bring_in(ready, spoilt, ines.id)
    assert len(drafts.types(ready)) == 2, "nothing of what was refused is left"


def _changed(data: bytes, name: str, body: bytes | None) -> bytes:
    """The zip with one entry replaced, or left out."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for entry in old.namelist():
            if entry != name:
                new.writestr(entry, old.read(entry))
        if body is not None:
            new.writestr(name, body)
    return out.getvalue()


def test_what_was_said_of_samples_is_taken_back_with_the_rest(ready: Store, ines: SignedIn) -> None:
    key = ticket(ready, ines)
    before = truths(ready, KEY)
    fields.type_right(ready, at(ready, ines), 1, key, "FD-1")
    fields.confirm(ready, at(ready, ines), [(2, key)])
    assert bench_view(ready, KEY, 1, key).labelled == 2
    assert drafts.undo(ready, KEY) == "1 found is right"
    assert drafts.undo(ready, KEY) == "Ticket no is FD-1"
    assert truths(ready, KEY) == before


def test_a_landmark_is_answered_for_dialled_and_never_numbered_twice(ready: Store, ines: SignedIn) -> None:
    words = fields.words_at(ready, 1, 0, numbers(ready, 1, "Ticket"))
    landmarks.add_landmark(ready, at(ready, ines), 1, 0, words.box)
    assert landmarks.dial(ready, KEY, "L1").answered == 1
    with pytest.raises(NotDone, match="L1 is not found on this sample"):
        landmarks.answer(ready, at(ready, ines), "L1", 2, "yes")
    assert "stays as it is described: 2 of 2" in landmarks.answer(ready, at(ready, ines), "L1", 2, "absent")
    docket = fields.words_at(ready, 2, 0, numbers(ready, 2, "Docket"))
    message = landmarks.answer_here(ready, at(ready, ines), "L1", 2, 0, docket.box)
    assert "“Ticket” or “Docket”" in message
    with pytest.raises(NotDone, match="no such thing as L1 here"):
        landmarks.answer_here(ready, at(ready, ines), "L1", 2, 0, Box(300, 500, 301, 501))
    landmarks.set_dial(ready, at(ready, ines), "L1", 0.97, ["Ticket", " Ticket "])
    dial = landmarks.dial(ready, KEY, "L1")
    assert (dial.wordings, dial.landmark.alike, dial.agreed) == (("Ticket",), 0.97, 1)
    with pytest.raises(NotDone, match="at least one wording"):
        landmarks.set_dial(ready, at(ready, ines), "L1", 0.9, [" "])
    with pytest.raises(NotDone, match="less than or equal to 1"):
        landmarks.set_dial(ready, at(ready, ines), "L1", 7, ["Ticket"])
    landmarks.remove_landmark(ready, at(ready, ines), "L1")
    landmarks.add_landmark(ready, at(ready, ines), 1, 0, words.box)
    assert [landmark.key for landmark in drafts.draft_type(ready, KEY).landmarks] == ["L2"], "answers for L1 are kept"


@pytest.mark.parametrize(
    "form",
    [
        ComputedForm(how="translated", of="ticket_no", by="FD-1 = two\nFD-45088 = one"),
        ComputedForm(how="arithmetic", one="ticket_no", operation="minus", other="ticket_no", decimals=0),
        ComputedForm(how="part", of="ticket_no", part="figures"),
        ComputedForm(how="by_list", of="ticket_no", in_list="ports", column="region"),
        ComputedForm(how="fixed_text", text="QLN"),
    ],
)
def test_how_a_field_is_worked_out_comes_back_as_it_was_set(ready: Store, ines: SignedIn, form: ComputedForm) -> None:
    ticket(ready, ines)
    key = compute(ready, at(ready, ines), form.model_copy(update={"name": "Made"}))
    card = next(card for card in bench_view(ready, KEY, 1, key).fields if card.key == key)
    assert card.computed == form


@pytest.fixture
def read_note(ready: Store, ines: SignedIn) -> Callable[[], int]:
    """A lane that reads with revision 1 of the type, and a note that comes through it up to review or settled."""
    lane_settings = supplier_invoices().model_copy(update={"type": KEY, "review_below": 0.3})

    def through() -> int:
        with ready.transaction() as session:
            session.add(Lane(key="fuel", name="Fuel", settings=lane_settings))
        for name in ("fuel-note-06.pdf", "fuel-note-03.jpg"):
            arrivals.arrive(ready, "fuel", name, (NOTES / name).read_bytes(), ines.id, None)
        for file in ids(ready, ArrivedFile):
            reading.open_file(ready, file)
        with ready.transaction() as session:
            pages = list(session.exec(select(Page.id).where(Page.document_id != None)))  # noqa: E711 - SQL
        for page in pages:
            reading.read_page(ready, page or 0)
        for document in ids(ready, Document):
            extract.extract_document(ready, document)
        return ids(ready, Document)[0]

    return through


def test_the_same_type_finds_the_same_on_the_bench_in_a_lane_and_by_extract(
    ready: Store,
    ines: SignedIn,
    read_note: Callable[[], int],
    tmp_path: Path,
) -> None:
    key = ticket(ready, ines)
    wider = {
        "beside_label.labels": ["Ticket no.\nDocket"],
        "beside_label.directions": ["right", "below"],
        "barcode.on": ["on"],
        "barcode.before": ["*"],
    }
    limits = {
        "export_as": ["lower"],
        "review_below": ["99.9"],
        "length.least": ["9"],
        "one_of.values": ["FD-1\nFD-45088"],
    }
    fields.set_rule(ready, at(ready, ines), key, rule_as_sent(ready, key) | wider | limits)
    fields.add_field(ready, at(ready, ines), fields.words_at(ready, 1, 0, numbers(ready, 1, "26.05.2026")))
    slip = compute(
        ready, at(ready, ines), ComputedForm(name="Slip", how="joined", several=[key, "date"], between=" of ")
    )
    with pytest.raises(NotDone, match="in a circle"):
        compute(ready, at(ready, ines), ComputedForm(how="joined", several=[key, slip]), slip)
    both = {"check": ["if_then"], "if_then.when.field": [key], "if_then.then.field": ["date"]}
    add_check(ready, at(ready, ines), both)
    with pytest.raises(NotDone, match="checked already"):
        add_check(ready, at(ready, ines), both)
    with pytest.raises(NotDone, match="which fields or columns"):
        add_check(ready, at(ready, ines), {"check": ["sum"]})
    drafts.publish(ready, KEY, "", ines.id)
    (tmp_path / "note.json").write_text(drafts.exported(ready, KEY))
    first = read_note()
    doc_type = load_type(str(tmp_path / "note.json"))
    with ready.transaction() as session:
        proof = prove(doc_type, samples.proof_samples(ready, session, KEY))
        rows = session.exec(select(FieldValue).order_by(FieldValue.document_id)).all()  # type: ignore[arg-type]
        failed = session.exec(select(CheckResult.message).where(CheckResult.passed == False)).all()  # noqa: E712 - SQL
    for number, (document, name) in enumerate(((first, "fuel-note-06.pdf"), (first + 1, "fuel-note-03.jpg")), start=1):
        on_bench = {field: proven.found.value for field, proven in proof[number].items()}
        in_lane = {row.key: row.value for row in rows if row.document_id == document}
        extracted = {field: found.value for field, found in extract_file(NOTES / name, doc_type).fields.items()}
        assert on_bench == in_lane == extracted
        assert on_bench[key]
    assert [m for m in failed if "one of FD-1" in m] == ["Ticket no is FD-81660; it should be one of FD-1, FD-45088."]
    assert sum("it should be at least 9 characters long" in message for message in failed) == 2
    assert "As ticket no is there, it should be that date is there." in failed
    doubtful = {row.key for row in rows if row.state == "doubtful" and row.document_id == first}
    assert doubtful == ({key} if proof[1][key].found.confidence < 0.999 else set()), (
        "its own threshold goes before the lane's"
    )


@pytest.mark.parametrize(
    ("form", "value", "wanted"),
    [
        ("date_dots", "2026-09-03", "03.09.2026"), ("date_compact", "2026-09-03", "20260903"),
        ("date_dots", "soon", "soon"),
        ("grouped_comma", "12345.60", "12.345,60"), ("decimal_comma", "12345.6", "12345,6"),
        ("grouped_point", "FD-1", "FD-1"),
        ("upper", "tank 7", "TANK 7"), ("no_blanks", "GB 12 X", "GB12X"), ("lower", None, None),
    ],
)  # fmt: skip
def test_values_are_delivered_in_the_form_that_is_wanted(
    form: ValueFormat, value: str | None, wanted: str | None
) -> None:
    assert formatted(value, form) == wanted
