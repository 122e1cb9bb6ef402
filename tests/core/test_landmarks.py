"""Barcodes, boxes and blank strips on pages, landmarks fitted to answers, and values in barcodes or worked out."""

from __future__ import annotations

import json
from pathlib import Path

import cv2
import numpy as np
import pytest
import zxingcpp
from numpy.typing import NDArray
from pydantic import ValidationError

from tests.core.paper import document, page
from tests.core.test_bench import of_type, place, value
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.extraction.extract import extract
from zestpail.core.extraction.near_misses import why_not_found
from zestpail.core.finders import BesideLabel, Computed, FixedPlace, InBarcode, SearchContext
from zestpail.core.finders.derived.computed import (
    ByList,
    Calculation,
    Fixed,
    Joined,
    PartOf,
    Translated,
)
from zestpail.core.kinds import AnyKind, Code, Date, OneLine, Paragraph, Quantity, SeveralLines, YesNo
from zestpail.core.landmarks import BarcodePlace, BlankStrip, PrintedWords
from zestpail.core.landmarks.match import ReferencePosition
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.features.barcodes import barcodes_on
from zestpail.core.reading.features.marks import marks_on
from zestpail.core.reading.geometry import Box, scaling
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.page import Barcode, Mark, Word
from zestpail.core.reading.preparation.prepare import Prepared, straightened
from zestpail.core.reference.held import HeldLists
from zestpail.core.reference.reference_list import ListColumn, ReferenceList
from zestpail.core.teaching.field_proposal import propose_landmark
from zestpail.core.teaching.landmark_fitting import (
    Answer,
    agrees,
    chosen,
    fitted,
)

DPI = 200


def blank() -> NDArray[np.uint8]:
    return np.full((2339, 1654), 245, np.uint8)


def bars(form: str, text: str, quarter_turns: int = 0) -> NDArray[np.uint8]:
    """A page with one barcode that many quarter turns round."""
    paper = blank()
    code = zxingcpp.create_barcode(text, zxingcpp.barcode_format_from_str(form))
    picture = np.rot90(np.array(zxingcpp.write_barcode_to_image(code, scale=3)), quarter_turns)
    paper[400 : 400 + picture.shape[0], 300 : 300 + picture.shape[1]] = picture
    return paper


@pytest.mark.parametrize(
    ("form", "text", "turns"), [("Code128", "FD-20418", 0), ("Code39", "CALL 7", 1), ("QRCode", "ä/9", 2)]
)
def test_barcodes_are_read_at_any_turn_with_their_place(form: str, text: str, turns: int) -> None:
    paper = bars(form, text, turns)
    (code,) = barcodes_on(paper, DPI)
    assert (code.symbology, code.text) == (form, text)
    assert Box(100, 140, 400, 400).covers_centre_of(code.box)
    assert barcodes_on(blank(), DPI) == ()


def test_the_barcodes_of_the_demos_notes_say_what_is_printed(demo: Path) -> None:
    read = {}
    for truth in (demo.parent / "fuel-delivery-notes").glob("*.truth.json"):
        scan = straightened(_arrived(truth.with_name(truth.name.removesuffix(".truth.json")).read_bytes()))
        codes = [code.text.partition("*")[0] for code in barcodes_on(scan.pixels, DPI)]
        read[truth.name] = (codes, json.loads(truth.read_text())["fields"]["ticket_no"])
    assert len(read) == 8
    assert all(codes in ([], [ticket]) for codes, ticket in read.values())
    assert sum(bool(codes) for codes, _ in read.values()) == 6, "two are of the old form, which has none"


def _arrived(data: bytes) -> Prepared:
    return Prepared(open_page(data, 0).pixels, scaling(1))


def test_boxes_are_found_and_their_ink_told() -> None:
    paper = blank()
    for at, ticked in enumerate((False, True)):
        left = 300 + 200 * at
        cv2.rectangle(paper, (left, 500), (left + 28, 528), 20, 2)
        if ticked:
            cv2.line(paper, (left + 2, 502), (left + 30, 526), 20, 5)
    cv2.putText(paper, "DOO 0", (300, 800), cv2.FONT_HERSHEY_SIMPLEX, 2, 20, 4)
    letters = Word(text="DOO 0", box=Box(105, 268, 170, 290), confidence=0.9)
    empty, ticked = marks_on(paper, DPI, [letters])
    assert empty.ink < 0.02
    assert ticked.ink > 0.15
    assert empty.box == pytest.approx((300 * 0.36, 180, 329 * 0.36, 529 * 0.36), abs=1.5)


NOTE = """
Harbour Office

Stamp here      Total  12
Class


Total  99
Signed by
"""


def noted(text: str = NOTE, code: str = "") -> DocumentReading:
    corners = ((300.0, 40.0), (400.0, 40.0), (400.0, 70.0), (300.0, 70.0))
    codes = (Barcode(symbology="Code128", text=code, corners=corners),) if code else ()
    marks = (Mark(box=Box(90, 80, 100, 90), ink=0.0),)
    return document(page(text).model_copy(update={"barcodes": codes, "marks": marks}))


def test_what_is_pointed_at_tells_what_kind_of_landmark_it_is() -> None:
    paper = noted(code="FD-1")
    there = {
        "barcode": Box(340, 50, 341, 51),
        "mark": Box(94, 84, 95, 85),
        "printed_words": place(paper, "Signed by"),
        "blank_strip": Box(200, 102, 201, 103),
    }
    for wanted, box in there.items():
        landmark = propose_landmark(paper, 0, box, "L1")
        assert landmark is not None
        assert landmark.landmark == wanted
        seen = chosen(landmark, paper)
        assert seen is not None, f"a {wanted} is found where it was pointed at"
        assert seen.score > 0.9


def test_a_blank_strip_is_found_although_it_has_moved_and_a_speck_lies_in_it() -> None:
    strip = propose_landmark(noted(), 0, Box(200, 102, 201, 103), "L1")
    assert isinstance(strip, BlankStrip)
    lower = noted(NOTE.replace("Harbour Office", "Harbour Office\nOuter Basin"))
    speck = page("\n" * 7 + " " * 30 + ".", confidence=0.2).words
    marred = document(lower.pages[0].model_copy(update={"words": (*lower.pages[0].words, *speck)}))
    seen = chosen(strip, marred)
    assert seen is not None
    assert seen.box.y0 > strip.reference.box.y0 + 10


def test_a_landmark_is_fitted_to_answers() -> None:
    total = propose_landmark(noted(), 0, Box(40, 124, 60, 132), "L1")
    assert isinstance(total, PrintedWords)
    assert total.wordings == ("Total",)
    other_words = noted(NOTE.replace("Total  99", "Sum    99").replace("Total  12", "        "))
    nothing = noted("Harbour Office\n\nTotaI hours")
    answers = [
        Answer(noted(), 0, place(noted(), "Signed")),
        Answer(other_words, 0, place(other_words, "Sum")),
        Answer(nothing),
    ]
    assert agrees(total, answers[1:]) == 0
    better = fitted(total, answers[1:])
    assert agrees(better, answers[1:]) == 2
    assert better.wordings == ("Total", "Sum")
    assert better.alike > 0.9, "the garbled one is not it"
    assert fitted(better, answers[1:]) == better, "what fits is left alone"


def test_of_two_equal_texts_the_place_is_learned() -> None:
    far = noted(NOTE.replace("Total  12", "        ") + "\n" * 30 + "Total  3")
    upper = PrintedWords(
        key="L1", wordings=("Total",), reference=ReferencePosition(box=place(noted(), "Stamp")), keeps_place=0
    )
    there = next(word.box for word in far.pages[0].words if word.text == "Total" and word.box.y0 > 300)
    assert agrees(upper, [Answer(far, 0, there)]) == 0
    lower = upper.model_copy(update={"reference": ReferencePosition(box=Box(there.x0, 760, there.x1, 770))})
    assert agrees(fitted(lower, [Answer(far, 0, there)]), [Answer(far, 0, there)]) == 1


def test_a_barcode_gives_its_text_or_a_part_and_carries_a_zone() -> None:
    def found(finder: InBarcode, code: str = "FD-20418*7") -> str | None:
        rule = FieldRule(key="t", name="T", kind=Code(), finders=(finder,))
        return value(noted(code=code), of_type(rule), "t")

    assert found(InBarcode()) == "FD-20418*7"
    assert found(InBarcode(before="*")) == "FD-20418"
    assert found(InBarcode(after="-", before="*")) == "20418"
    assert found(InBarcode(first=4, last=6)) == "204"
    assert found(InBarcode(begins_with="CALL")) is None
    assert found(InBarcode(symbology="QRCode")) is None
    with pytest.raises(ValidationError, match="comes before the first one"):
        InBarcode(first=5, last=2)
    bar = BarcodePlace(key="L1", symbology="Code128", reference=ReferencePosition(box=Box(300, 60, 400, 90)))
    zone = FixedPlace(zone=ReferencePosition(box=place(noted(), "Signed by").grown(2)), held_to=("L1",))
    up = document(
        noted(NOTE.lstrip("\n").replace("Harbour Office\n\n", ""), "X")
        .pages[0]
        .model_copy(update={"barcodes": (Barcode(symbology="Code128", text="X", corners=((300, 32), (400, 62))),)})
    )
    rule = FieldRule(key="s", name="S", kind=OneLine(), finders=(zone,))
    assert value(up, DocumentType(key="t", name="T", fields=(rule,), landmarks=(bar,)), "s") == "Signed by"


TICKET = """
Ticket  FD-20418
Vessel  Marit
Port    QLN
Litres  200
Price   2.5
"""


PORTS = HeldLists([(
    ReferenceList(
        key="ports", name="Ports",
        columns=(
            ListColumn(key="code", name="Code", says="identifier"),
            ListColumn(key="port", name="Port", says="name"), ListColumn(key="region", name="Region"),
        ),
    ),
    [{"code": "QLN", "port": "Quillon", "region": "Outer basin"}, {"code": "TRW", "port": "Tarn", "region": "Creek"}],
)])  # fmt: skip


def test_values_are_worked_out_from_others() -> None:
    def beside(name: str, kind: AnyKind) -> FieldRule:
        return FieldRule(key=name.lower(), name=name, kind=kind, finders=(BesideLabel(labels=(name,)),))

    def worked_out(*ways: Calculation | PartOf | Joined | Translated | ByList | Fixed) -> list[str | None]:
        made = [
            FieldRule(key=f"made{at}", name="M", kind=OneLine(), finders=(Computed(way=way),))
            for at, way in enumerate(ways)
        ]
        printed = (beside("Ticket", Code()), beside("Vessel", OneLine()), beside("Port", OneLine()))
        numbers = (beside("Litres", Quantity()), beside("Price", Quantity()))
        doc_type = DocumentType(key="t", name="T", fields=(*made, *printed, *numbers))
        found = extract(document(page(TICKET)), doc_type, lists=PORTS).values
        return [next(one.value for one in found if one.key == rule.key) for rule in made]

    assert worked_out(
        Calculation(one="litres", operation="times", other="price"),
        PartOf(of="ticket", part="figures"),
        Joined(of=("port", "made1"), between="/"),
        Translated(of="port", by={"qln": "Quillon"}),
        Fixed(text="EUR"),
        Calculation(one="litres", operation="divided_by", other="vessel"),
        ByList(of="port", list="ports", column="region"),
        ByList(of="vessel", list="ports", column="region"),
    ) == ["500.00", "20418", "QLN/20418", "Quillon", "EUR", None, "Outer basin", None]
    with pytest.raises(ValidationError, match="in a circle"):
        worked_out(PartOf(of="made1", part="letters"), PartOf(of="made0", part="letters"))
    with pytest.raises(ValidationError, match="goes by a field that is not there: tonnes"):
        worked_out(PartOf(of="tonnes", part="letters"))


REPORT = """
Findings        The keel plates are sound but
                two anodes are worn out; re-
                place them.

                Signed off
Passed          Ja
"""


@pytest.mark.parametrize(
    ("printed", "wanted"),
    [
        ("This licence is in force and good until\n5 June 2027 at noon.", "2027-06-05"),
        ("Number of the note FD-1 ref 7    good until\n" + "5 June 2027".ljust(33) + "6 July 2027", "2027-07-06"),
    ],
)
def test_a_sentence_goes_on_at_the_next_line_and_columns_do_not(printed: str, wanted: str) -> None:
    rule = FieldRule(key="d", name="D", kind=Date(), finders=(BesideLabel(labels=("good until",)),))
    assert value(document(page(printed)), of_type(rule), "d") == wanted


@pytest.mark.parametrize(
    ("label", "kind", "wanted"),
    [
        ("Findings", Paragraph(), "The keel plates are sound but two anodes are worn out; replace them."),
        (
            "Findings",
            SeveralLines(),
            "The keel plates are sound but\ntwo anodes are worn out; re-\nplace them.",
        ),
        ("Passed", YesNo(), "yes"),
    ],
)
def test_values_of_several_lines_end_at_a_gap(label: str, kind: AnyKind, wanted: str) -> None:
    rule = FieldRule(key="v", name="V", kind=kind, finders=(BesideLabel(labels=(label,), directions=("right",)),))
    assert value(document(page(REPORT)), of_type(rule), "v") == wanted


def test_what_was_not_found_is_told_with_how_near_it_came() -> None:
    def details(text: str) -> str:
        rule = FieldRule(key="t", name="T", kind=Code(), finders=(BesideLabel(labels=("Ticket no.",)),))
        paper = document(page(text))
        assert value(paper, of_type(rule), "t") is None
        return why_not_found(rule, SearchContext(paper, ()))

    assert details("Ticket no.  none") == "“Ticket no.” was found, but nothing beside it that is a code."
    assert "the nearest text is “Tickets”" in details("Tickets  FD-12")
    assert details("Wharf") == "No text on this sample is like one of its labels."


def test_a_zone_outside_its_page_is_refused() -> None:
    with pytest.raises(ValidationError, match="lies outside its page"):
        FixedPlace(zone=ReferencePosition(width=595, height=842, box=Box(700, 20, 760, 40)))


@pytest.mark.parametrize(
    "printed",
    ["Invoice number", "Invoicenumber", "I n v o i c e  number", "lnvoice nurnber", "Invoice nmber", "Invoice\nnumber"],
)
def test_a_label_is_found_garbled_run_together_stretched_and_broken(printed: str) -> None:
    paper = document(page("Quillon Harbour\n\n\n" + printed + "\n\n\nInvoice numbering 4"))
    words = PrintedWords(key="L1", wordings=("Invoice number",), reference=ReferencePosition(box=Box(40, 82, 110, 91)))
    seen = chosen(words, paper)
    assert seen is not None
    assert 80 < seen.box.y0 < 100, "where it is printed, and not within a longer word"
