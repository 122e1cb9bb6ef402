"""Which box is ticked, and whether somebody signed: on painted forms, and on the demo's scans."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.extraction.extract import Extraction, extract
from zestpail.core.extraction.files import extract_files
from zestpail.core.finders import FixedPlace, Option, Signed, Ticked
from zestpail.core.kinds import AnyKind, OneLine, Signature, Tick, YesNo
from zestpail.core.landmarks.match import ReferencePosition
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.features.combs import apart_from_combs
from zestpail.core.reading.features.ink import ink_of
from zestpail.core.reading.features.marks import marks_on
from zestpail.core.reading.geometry import Box, scaling
from zestpail.core.reading.page import Mark, PageReading, Word
from zestpail.core.teaching.mark_proposal import propose_inked

DPI, POINT = 200, 200 / 72
LEFTS = (100, 180, 260)
CLASSES = ("fishing", "cargo", "pleasure")
Paper = NDArray[np.uint8]


def pixel(x: float, y: float) -> tuple[int, int]:
    return round(x * POINT), round(y * POINT)


def form(draw: Callable[[Paper], object] = lambda _: None) -> DocumentReading:
    """“Class of vessel” over three boxes with their words, and “Signature” with a line over it; then drawn upon."""
    paper = np.full((2339, 1654), 245, np.uint8)
    words = [Word(text=text, box=Box(x, 90, x + 24, 98), confidence=0.95)
             for text, x in (("Class", 60), ("of", 86), ("vessel", 100))]  # fmt: skip
    for name, left in zip(CLASSES, LEFTS, strict=True):
        cv2.rectangle(paper, pixel(left, 110), pixel(left + 11, 121), 30, 2)
        words.append(Word(text=name, box=Box(left + 16, 111, left + 16 + 5 * len(name), 120), confidence=0.95))
        cv2.putText(paper, name, pixel(left + 16, 120), cv2.FONT_HERSHEY_SIMPLEX, 0.9, 30, 2)
    cv2.line(paper, pixel(60, 300), pixel(220, 300), 30, 2)
    words.append(Word(text="Signature", box=Box(60, 303, 100, 311), confidence=0.95))
    draw(paper)
    rule = Box(60, 299.6, 220, 300.4)
    reading = PageReading(
        width=595, height=842, words=tuple(words), source="ocr", engine="by hand", dpi=DPI, to_pixels=scaling(POINT),
        rules=(rule,), marks=marks_on(paper, DPI, words), ink=ink_of(paper, DPI),
    )  # fmt: skip
    return DocumentReading((reading,))


def read(document: DocumentReading, kind: AnyKind, *finders: Ticked | Signed | FixedPlace) -> Extraction:
    rule = FieldRule(key="it", name="It", kind=kind, finders=finders)
    return extract(document, DocumentType(key="form", name="Form", fields=(rule,)))


WHICH = Ticked(labels=("Class of vessel",), options=tuple(Option(value=name, wordings=(name,)) for name in CLASSES))


def tick(at: int) -> Callable[[Paper], object]:
    left = LEFTS[at]
    stroke = np.array([pixel(left + 2, 116), pixel(left + 5, 120), pixel(left + 13, 106)], np.int32)
    return lambda paper: cv2.polylines(paper, [stroke], False, 40, 4)


def filled(at: int) -> Callable[[Paper], object]:
    return lambda paper: cv2.rectangle(paper, pixel(LEFTS[at], 110), pixel(LEFTS[at] + 11, 121), 40, -1)


def ringed(at: int) -> Callable[[Paper], object]:
    middle = pixel(LEFTS[at] + 32, 115.5)
    return lambda paper: cv2.ellipse(paper, middle, (52, 27), 0, 0, 360, 40, 3)


def struck(*several: int) -> Callable[[Paper], object]:
    def draw(paper: Paper) -> None:
        for at in several:
            cv2.line(paper, pixel(LEFTS[at] + 13, 116), pixel(LEFTS[at] + 60, 115), 40, 4)

    return draw


def both(*draws: Callable[[Paper], object]) -> Callable[[Paper], object]:
    return lambda paper: [draw(paper) for draw in draws]


@pytest.mark.parametrize(
    ("draw", "chosen", "why", "surely"),
    [
        (tick(0), "fishing", "its box is ticked", True),
        (filled(2), "pleasure", "its box is ticked", True),
        (both(filled(0), tick(1)), "cargo", "ticked, where another box was filled in", False),
        (ringed(1), "cargo", "a ring is drawn round it", False),
        (struck(0, 2), "cargo", "the others are struck through", False),
    ],
)
def test_which_of_several_is_told_however_it_was_marked(
    draw: Callable[[Paper], object], chosen: str, why: str, surely: bool
) -> None:
    (value,) = read(form(draw), OneLine(), WHICH).values
    assert (value.value, value.reason) == (chosen, why)
    assert (value.confidence > 0.9) is surely, "what is not plainly ticked is for a person to see"


def test_nothing_ticked_is_no_value_and_two_ticks_are_a_doubt() -> None:
    (nothing,) = read(form(), OneLine(), WHICH).values
    assert nothing.value is None
    (torn,) = read(form(both(tick(0), tick(1))), OneLine(), WHICH).values
    assert torn.confidence < 0.75
    assert {reading.value for reading in torn.readings} | {torn.value} >= {"fishing", "cargo"}


def test_a_box_by_itself_and_a_zone_are_ticked_or_not() -> None:
    alone = Ticked(options=(Option(value="yes", wordings=("cargo",)),))
    zone = FixedPlace(zone=ReferencePosition(width=595, height=842, box=Box(170, 104, 240, 126)))
    for finder in (alone, zone):
        assert [read(form(draw), Tick(), finder).values[0].value for draw in (tick(1), tick(0))] == ["yes", "no"]
    assert Tick().show("yes") == "ticked"


def test_somebody_signed_or_not() -> None:
    pen = np.array([pixel(80 + 9 * at, 290 - 14 * (at % 2)) for at in range(10)], np.int32)
    signed = form(lambda paper: cv2.polylines(paper, [pen], False, 40, 3))
    by_label = Signed(labels=("Signature",))
    assert [read(d, Signature(), by_label).values[0].value for d in (signed, form())] == ["yes", "no"]


def test_boxes_that_are_drawn_round_propose_their_question_and_words() -> None:
    rule = propose_inked(form(), 0, Box(95, 104, 330, 126), ())
    assert rule
    assert (rule.name, rule.kind.kind) == ("Class of vessel", "line")
    assert rule.finders == (WHICH,)
    sign = propose_inked(form(), 0, Box(58, 270, 225, 312), ())
    assert sign
    assert sign.kind == Signature()
    assert propose_inked(form(), 0, Box(300, 400, 400, 500), ()) is None


def test_the_demos_forms_are_told_rightly(demo: Path) -> None:
    yes_or_no = tuple(Option(value=word, wordings=(word,)) for word in ("yes", "no"))
    rules = (
        FieldRule(key="vessel_class", name="Class", kind=OneLine(), finders=(WHICH,)),
        FieldRule(key="shore_power", name="Power", kind=YesNo(),
                  finders=(Ticked(labels=("Shore power",), options=yes_or_no),)),
        FieldRule(key="dangerous_goods", name="Goods", kind=YesNo(),
                  finders=(Ticked(labels=("Dangerous goods on board",), options=yes_or_no),)),
        FieldRule(key="signed", name="Signed", kind=Signature(), finders=(Signed(labels=("Signature",)),)),
    )  # fmt: skip
    files = [p for p in sorted((demo.parent / "berth-applications").iterdir()) if p.suffix != ".json"]
    assert len(files) == 8
    for found in extract_files(files, DocumentType(key="form", name="Form", fields=rules)):
        path = Path(found.file)
        truth = json.loads(path.with_name(path.name + ".truth.json").read_text())["fields"]
        assert {key: value.value for key, value in found.fields.items()} == {
            rule.key: truth[rule.key] for rule in rules
        }


def test_a_box_is_found_by_pointing_at_it_and_by_a_zone_drawn_beside_it() -> None:
    def filled(paper: Paper) -> None:
        cv2.line(paper, pixel(182, 112), pixel(189, 119), 30, 3)

    marked = form(filled)
    inside = Box(184, 114, 186, 116)
    rule = propose_inked(marked, 0, inside, ())
    assert rule
    assert (rule.name, rule.kind) == ("Cargo", Tick())
    for place in (Box(170, 108, 179, 124), Box(186, 104, 192, 109)):
        zone = FixedPlace(zone=ReferencePosition(page=0, width=595, height=842, box=place))
        assert read(marked, Tick(), zone).values[0].value == "yes"
        assert read(form(), Tick(), zone).values[0].value == "no", "its drawn edge is no tick"
    words = tuple(word for word in marked.pages[0].words if word.text not in CLASSES)
    bare = DocumentReading((marked.pages[0].model_copy(update={"words": words}),))
    rule = propose_inked(bare, 0, Box(98, 108, 113, 123), ())
    assert rule
    assert (rule.name, rule.kind, type(rule.finders[0])) == ("Class of vessel", Tick(), FixedPlace)


def test_rows_of_boxes_are_cells_and_boxes_seen_twice_are_none() -> None:
    paper = np.full((400, 1654), 245, np.uint8)
    for left in range(60, 60 + 6 * 14, 14):
        cv2.rectangle(paper, pixel(left, 40), pixel(left + 14, 56), 30, 2)
    seen = [Mark(box=Box(left, 40, left + 14, 56), ink=0) for left in (60, 74, 102)]
    alone = Mark(box=Box(300, 40, 314, 56), ink=0)
    left, (cells,) = apart_from_combs([*seen, alone], paper, DPI)
    assert left == (alone,)
    assert [cell.x0 for cell in cells] == pytest.approx([60, 74, 88, 102, 116, 130], abs=1), "those not seen too"
    twice = [Mark(box=Box(60 + aside, 40, 74 + aside, 56), ink=0) for aside in (0.0, 0.4)]
    assert apart_from_combs(twice, paper, DPI) == (tuple(twice), [])
