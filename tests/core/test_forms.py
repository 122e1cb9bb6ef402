"""Filled PDF forms: what stands in their fields is seen, read, and found by their names."""

from __future__ import annotations

import pytest

from tests.core.filled_form import form
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.extraction.extract import extract
from zestpail.core.finders import BesideLabel, InFormField
from zestpail.core.finders.inked.tick_boxes import judged, tick_boxes
from zestpail.core.kinds import Date, OneLine, style_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.page import FormEntry, PageReading
from zestpail.core.reading.preparation.edits import UNTOUCHED, PageEdits
from zestpail.core.reading.read import read_page
from zestpail.core.teaching.field_proposal import propose_field


def reading(data: bytes, edits: PageEdits = UNTOUCHED) -> PageReading:
    return read_page(open_page(data, 0), edits=edits).reading


def entry(read: PageReading, name: str) -> FormEntry:
    return next(one for one in read.form if one.name == name)


@pytest.mark.parametrize("rotate", [0, 90])
def test_what_was_filled_in_is_words_of_the_page(rotate: int) -> None:
    read = reading(form(rotate))
    texts = [word.text for word in read.words]
    assert {"Vessel", "Grey", "Heron", "September", "tug"} <= set(texts), "printed, filled in, and laid over the page"
    vessel = entry(read, "page1.vesselName[0]")
    assert (vessel.value, vessel.labels, vessel.ticked) == ("Grey Heron", ("vessel Name",), None)
    heron = next(word for word in read.words if word.text == "Heron")
    assert vessel.box.covers_centre_of(heron.box), "in its place, however the page is turned"
    assert [mark.told for mark in read.marks] in ([True, False], [False, True])


def test_a_forms_tick_is_a_tick() -> None:
    read = reading(form())
    boxes = tick_boxes(read, 0, "left")
    assert [(box.text, box.inked) for box in boxes] == [("Dangerous goods on board", 1.0), ("", 0.0)], (
        "in the order of print"
    )
    assert judged(boxes, read)[0] == (1.0, "its box is ticked")


def test_values_are_found_by_what_the_form_calls_its_fields() -> None:
    document = DocumentReading((reading(form()),))
    named = FieldRule(key="day", name="Day", kind=Date(), finders=(BesideLabel(labels=("Day of arrival",)),))
    told = FieldRule(key="ship", name="Ship", kind=OneLine(), finders=(InFormField(name="page1.vesselName[0]"),))
    found = extract(document, DocumentType(key="a", name="A", fields=(named, told))).values
    assert [(value.value, value.reason) for value in found] == [
        ("2026-09-03", "in the form field “Day of arrival”"),
        ("Grey Heron", "in the form field “page1.vesselName[0]”"),
    ]
    box = entry(document.pages[0], "f2").box
    rule = propose_field(document, style_of(document.lines), 0, Box(box.x0, box.y0, box.x0 + 20, box.y1), "3", ())
    assert (rule.name, rule.kind, rule.finders) == ("Day of arrival", Date(), (InFormField(name="f2"),))


def test_nothing_is_left_of_a_form_field_that_is_blacked_out() -> None:
    box = entry(reading(form()), "page1.vesselName[0]").box
    corners = ((box.x0, box.y0), (box.x1, box.y0), (box.x1, box.y1), (box.x0, box.y1))
    read = reading(form(), PageEdits(blacked_out=(corners,)))
    assert "Heron" not in {word.text for word in read.words}
    assert "Grey Heron" not in read.model_dump_json()
