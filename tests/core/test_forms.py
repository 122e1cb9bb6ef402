"""Filled PDF forms: what stands in their fields is seen, read, and found by their names."""

from __future__ import annotations

import io

import pikepdf
import pytest
from pikepdf import Array, Dictionary, Name, String

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

PRINTED = ("Berth application of the Quillon Harbour Board", "Vessel", "Arrival", "Dangerous goods on board", "Remarks")


def form(rotate: int = 0) -> bytes:
    """A page with printed labels, two text fields, two boxes to be ticked, and a remark laid over it."""
    pdf = pikepdf.new()
    font = Dictionary(Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica, Encoding=Name.WinAnsiEncoding)
    fonts = Dictionary(F=pdf.make_indirect(font))
    text = "".join(f"BT /F 11 Tf 50 {750 - 40 * at} Td ({line}) Tj ET\n" for at, line in enumerate(PRINTED))
    page = Dictionary(
        Type=Name.Page, MediaBox=Array([0, 0, 595, 842]), Rotate=rotate, Resources=Dictionary(Font=fonts),
        Contents=pdf.make_stream(text.encode()),
    )  # fmt: skip

    def drawn(width: float, height: float, content: str) -> pikepdf.Stream:
        stream = pdf.make_stream(content.encode())
        stream.Type, stream.Subtype, stream.BBox = Name.XObject, Name.Form, Array([0, 0, width, height])
        stream.Resources = Dictionary(Font=fonts)
        return stream

    def widget(name: str, y: float, label: str = "", **more: pikepdf.Object) -> pikepdf.Object:
        width = 200 if more["FT"] == Name.Tx else 12
        return pdf.make_indirect(Dictionary(
            Type=Name.Annot, Subtype=Name.Widget, T=String(name), TU=String(label),
            Rect=Array([200, y, 200 + width, y + 14]), F=4, **more,
        ))  # fmt: skip

    def filled(name: str, y: float, value: str, label: str = "") -> pikepdf.Object:
        content = f"/Tx BMC BT /F 11 Tf 2 3 Td ({value}) Tj ET EMC"
        return widget(name, y, label, FT=Name.Tx, V=String(value), AP=Dictionary(N=drawn(200, 14, content)))

    def box(name: str, y: float, ticked: bool) -> pikepdf.Object:
        looks = Dictionary(Yes=drawn(12, 14, "0 0 12 14 re S 2 2 m 10 12 l S"), Off=drawn(12, 14, "0 0 12 14 re S"))
        state = Name.Yes if ticked else Name.Off
        return widget(name, y, FT=Name.Btn, V=state, AS=state, AP=Dictionary(N=looks))

    fields = [
        filled("page1.vesselName[0]", 708, "Grey Heron"),
        filled("f2", 668, "3 September 2026", "Day of arrival"),
        box("dangerous", 628, ticked=True),
        box("insured", 588, ticked=False),
    ]
    remark = Dictionary(
        Type=Name.Annot, Subtype=Name.FreeText, Rect=Array([200, 560, 400, 574]), F=4, Contents=String("with tug"),
        AP=Dictionary(N=drawn(200, 14, "BT /F 11 Tf 2 3 Td (with tug) Tj ET")),
    )  # fmt: skip
    page.Annots = Array([*fields, pdf.make_indirect(remark)])
    pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
    pdf.Root.AcroForm = pdf.make_indirect(Dictionary(Fields=Array(fields), DR=Dictionary(Font=fonts)))
    out = io.BytesIO()
    pdf.save(out)
    return out.getvalue()


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
