"""A pile is cut where its rules say, every page is accounted for, and the demo's bundles come out as they are."""

from __future__ import annotations

import json
from itertools import chain
from pathlib import Path

import numpy as np
import pypdfium2 as pdfium
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from benchmarks.blank_pages import DPI, blank_pages, hardly_written
from zestpail.core.reading.features.barcodes import barcodes_on
from zestpail.core.reading.geometry import Box, scaling
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.page import Barcode, PageReading, Word
from zestpail.core.reading.preparation.blank_page import is_blank
from zestpail.core.separation import (
    AtBarcode,
    AtBlankPage,
    AtPrintedSheet,
    AtWords,
    EachFile,
    EveryPages,
    Separation,
    SheetCode,
    code_text,
    codes_on,
    split_stack,
)
from zestpail.core.separation.printed_sheets import cover_sheet, separator_sheet, sheets_pdf

PILE = Path(__file__).parents[2] / "demo" / "files" / "vessel-calls" / "vessel-calls-01.tif"


def side(*codes: str, text: str = "", blank: bool = False, symbology: str = "Code128") -> PageReading:
    corners = ((0.0, 0.0), (9.0, 0.0), (9.0, 9.0), (0.0, 9.0))
    return PageReading(
        width=595, height=842, source="ocr", engine="", dpi=72, to_pixels=scaling(1), blank=blank,
        words=tuple(Word(text=word, box=Box(0, 0, 9, 9), confidence=1) for word in text.split()),
        barcodes=tuple(Barcode(symbology=symbology, text=code, corners=corners) for code in codes),
    )  # fmt: skip


BLANK = side(blank=True)
COVER = side("PAIL/BUNDLE", "PAIL/SET/vessel/MAREN TIDE", "PAIL/SET/berth/B%2F7", "4006381333931")
CREW, OTHER = side("PAIL/DOC/crew-list"), side("PAIL/DOC", "PAIL/MAIL/post@quillon.example")


def test_bundles_and_documents_in_one_pass() -> None:
    stack = [COVER, BLANK, CREW, side(text="a"), BLANK, side(text="b"), OTHER, side(text="c"), COVER, CREW, side()]
    rules = Separation(bundles=AtPrintedSheet(), documents=AtPrintedSheet(), blank_pages="left_out")
    origin = split_stack(stack, rules)
    given_ = {"vessel": "MAREN TIDE", "berth": "B/7"}
    assert [(d.pages, d.type, d.bundle, d.mail) for d in origin.documents] == [
        ((3, 5), "crew-list", 0, ""), ((7,), "", 0, "post@quillon.example"), ((10,), "crew-list", 1, ""),
    ]  # fmt: skip
    assert all(document.values == given_ for document in origin.documents)
    assert {left.page: left.why for left in origin.left_out} == {
        0: "cover sheet", 1: "blank", 2: "separator sheet", 4: "blank", 6: "separator sheet", 8: "cover sheet",
        9: "separator sheet",
    }  # fmt: skip
    saved = split_stack(stack, rules.model_copy(update={"sheets": "kept", "blank_pages": "kept"}))
    assert sorted(chain.from_iterable(d.pages for d in saved.documents)) == list(range(len(stack)))


@pytest.mark.parametrize(
    ("rule", "stack", "documents"),
    [
        (EachFile(), [side(), BLANK, side()], [(0, 1, 2)]),
        (EveryPages(pages=2), [side()] * 5, [(0, 1), (2, 3), (4,)]),
        (AtBlankPage(), [side(), side(), BLANK, BLANK, side()], [(0, 1), (4,)]),
        (AtWords(words=("Page 1 of",)), [side(text="page 1 of 2"), side(), side(text="Page 1 of 1")], [(0, 1), (2,)]),
        (AtBarcode(begins_with="QHB-"), [side("QHB-1"), side("PARCEL9"), side("QHB-1")], [(0, 1), (2,)]),
        (AtBarcode(pattern=r"QHB-\d{3}"), [side("QHB-123"), side("QHB-12"), side("QHB-1234")], [(0, 1, 2)]),
        (AtBarcode(never="QHB-0", on="own_sheet"), [side("Q1"), side(), side("QHB-01")], [(1, 2)]),
        (AtBarcode(symbologies=("QRCode",)), [side("a"), side("b")], [(0, 1)]),
        (AtBarcode(how_many=2), [side("a", "b"), side("c"), side("d", "e", "f")], [(0, 1), (2,)]),
    ],
)
def test_what_begins_a_document(rule: object, stack: list[PageReading], documents: list[tuple[int, ...]]) -> None:
    origin = split_stack(stack, Separation.model_validate({"documents": rule}))
    assert [document.pages for document in origin.documents] == documents


def test_pages_before_the_first_beginning_are_kept_and_told() -> None:
    origin = split_stack([side(text="lost"), CREW, side()], Separation(documents=AtPrintedSheet()))
    assert [(d.pages, d.doubt != "") for d in origin.documents] == [((0,), True), ((2,), False)]
    stickers = split_stack([side("S-7", "9"), side()], Separation(documents=AtBarcode(begins_with="S-", field="no")))
    assert stickers.documents[0].values == {"no": "S-7"}
    with pytest.raises(ValidationError, match="cannot be understood"):
        AtBarcode(pattern="(")


@given(st.lists(st.sampled_from([COVER, CREW, OTHER, BLANK, side(), side("X")]), max_size=30), st.booleans())
def test_every_page_goes_somewhere_once_and_in_order(stack: list[PageReading], drop: bool) -> None:
    rules = Separation(bundles=AtPrintedSheet(), documents=AtPrintedSheet(), blank_pages="left_out" if drop else "kept")
    origin = split_stack(stack, rules)
    went = [page for document in origin.documents for page in document.pages] + [left.page for left in origin.left_out]
    assert sorted(went) == list(range(len(stack)))
    assert [d.pages[0] for d in origin.documents] == sorted(d.pages[0] for d in origin.documents)


@given(st.text(min_size=1, max_size=60).filter(lambda t: t.isprintable() and t == t.strip()))
def test_any_value_comes_back_from_its_code(value: str) -> None:
    code = SheetCode(act="value", name="vessel/Schiff %", value=value)
    (back,) = codes_on(side(code_text(code)).barcodes)
    assert back == code
    assert codes_on(side("PAIL/SET/only-one", "PAIL/NO/x", "PAIL", "BUNDLE", "PAIL/BUNDLE/x").barcodes) == ()


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_printed_sheets_can_be_read_at_any_turn_and_a_little_crooked(paper: str) -> None:
    values = [("vessel", "Ærø Möwe 7"), ("year", "2026"), ("note", "a long text that no row of bars could hold " * 2)]
    sheets = [cover_sheet(values, mail="post@quillon.example"), separator_sheet("crew-list", "Crew list")]
    for sheet, page in zip(sheets, pdfium.PdfDocument(sheets_pdf(sheets, paper)), strict=True):  # type: ignore[arg-type]
        pixels = np.array(page.render(scale=DPI / 72).to_numpy()[:, :, 0])
        for quarter in range(4):
            found = codes_on(barcodes_on(np.ascontiguousarray(np.rot90(pixels, quarter)), DPI))
            assert {code.sentence for code in found} == {code.sentence.strip() for code in sheet.codes}


def test_blank_pages_are_told_from_hardly_written_ones() -> None:
    assert sum(is_blank(page, DPI) for page in blank_pages(40, seed=51)) >= 38
    assert not any(is_blank(page, DPI) for page in hardly_written(60, seed=52))


def test_the_bundles_of_the_demo() -> None:
    data, truth = PILE.read_bytes(), json.loads(PILE.with_name(PILE.name + ".truth.json").read_text())
    stack = []
    for number in range(count_pages(data)):
        page = open_page(data, number)
        blank = is_blank(page.pixels, page.dpi)
        stack.append(BLANK if blank else side().model_copy(update={"barcodes": barcodes_on(page.pixels, page.dpi)}))
    origin = split_stack(
        stack, Separation(bundles=AtPrintedSheet(), documents=AtPrintedSheet(), blank_pages="left_out")
    )
    found = [(d.type, d.values, d.pages[0], len(d.pages)) for d in origin.documents]
    assert found == [(d["type"], d["given"], d["first_side"], d["pages"]) for d in truth["documents"]]
    assert len({document.bundle for document in origin.documents}) == truth["bundles"]
