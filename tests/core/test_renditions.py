"""The forms in which a document is delivered: each opens with what reads such files, and says the same."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path
from xml.etree import ElementTree as ET

import numpy as np
import pikepdf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from lxml import etree
from PIL import Image

import zestpail.core.writing
from tests.core.paper import page
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.read import read_page
from zestpail.core.writing.original_pages import OriginalPage
from zestpail.core.writing.page_texts import ALTO, XHTML
from zestpail.core.writing.renditions import RENDITIONS, Written, rendered, told_apart
from zestpail.core.writing.searchable_pdf import PageToWrite
from zestpail.core.writing.value_files import XML, DocumentValues, TableValues, values_csv, values_json, values_xml

SCHEMA = etree.XMLSchema(etree.parse(str(Path(zestpail.core.writing.__file__).parent / "values.xsd")))
LINES = TableValues("lines", "Lines", [("text", "Text"), ("amount", "Amount")],
                    [{"text": "Rope <8>", "amount": "12.50"}, {"text": "=1+1", "amount": None}])  # fmt: skip
VALUES = DocumentValues("D7", "supplier-invoice", 3, [("seller", "Seller & Co"), ("total", "Total")],
                        {"seller": "Brevanne", "total": "99.50"}, [LINES], {"came_from": "C-1"})  # fmt: skip


def written(text: str) -> Written:
    reading = page(text)
    pixels = np.full((round(reading.height * reading.dpi / 72), round(reading.width * reading.dpi / 72)), 255, np.uint8)
    return Written([PageToWrite(pixels, reading), PageToWrite(pixels, page(""))], "BB-1", VALUES)


def test_words_with_their_places_in_open_formats() -> None:
    document = written("Invoice   BB-1\nTotal   99.50")
    assert rendered(document, "text").data.decode().split("\f")[0].split() == ["Invoice", "BB-1", "Total", "99.50"]
    first = document.pages[0].reading
    alto = ET.fromstring(rendered(document, "alto").data)
    strings = list(alto.iter(f"{{{ALTO}}}String"))
    assert [one.get("CONTENT") for one in strings] == ["Invoice", "BB-1", "Total", "99.50"]
    scale, box = first.dpi / 72, first.words[0].box
    assert [int(strings[0].get(side) or 0) for side in ("HPOS", "VPOS", "WIDTH")] == pytest.approx(
        [box.x0 * scale, box.y0 * scale, box.width * scale], abs=1
    )
    assert len(list(alto.iter(f"{{{ALTO}}}Page"))) == 2
    body = rendered(document, "hocr").data.replace(b"<!DOCTYPE html>\n", b"")
    words = [one for one in ET.fromstring(body).iter(f"{{{XHTML}}}span") if one.get("class") == "ocrx_word"]
    assert [one.text for one in words] == ["Invoice", "BB-1", "Total", "99.50"]
    left, *_ = (words[0].get("title") or "").removeprefix("bbox ").split()
    assert int(left) == pytest.approx(box.x0 * scale, abs=1)


def test_pages_as_they_came_and_as_pictures(demo: Path) -> None:
    data = (demo / "brevanne-01.pdf").read_bytes()
    read = read_page(open_page(data, 0))
    kept = PageToWrite(read.pixels, read.reading, original=OriginalPage(data, 0))
    whole = Written([kept], "BB-1", VALUES, arrived=data)
    assert rendered(whole, "original").data == data
    part = rendered(Written([kept], "BB-1", VALUES), "original")
    assert part.suffix == ".pdf" and open_page(part.data, 0).layer == open_page(data, 0).layer
    with pikepdf.open(io.BytesIO(rendered(whole, "pdf_a").data)) as pdf:
        assert b"pdfaid:part>2" in pdf.Root.Metadata.read_bytes() and "/Scan" in pdf.pages[0].Resources.XObject
    with Image.open(io.BytesIO(rendered(Written([kept, kept], "", VALUES), "tiff").data)) as tiff:
        assert (tiff.n_frames, tiff.size) == (2, (read.pixels.shape[1], read.pixels.shape[0]))
    forms = [form for form in RENDITIONS if not form.startswith("invoice_")]  # those need an invoice: test_exchange
    suffixes = told_apart({form: rendered(whole, form).suffix for form in forms})
    assert len(set(suffixes.values())) == len(forms) and suffixes["searchable_pdf"] == ".pdf"


def test_values_as_files() -> None:
    told = json.loads(values_json(VALUES))
    assert (told["document"], told["revision"], told["fields"]["total"]) == ("D7", 3, "99.50")
    assert told["tables"]["lines"][1] == {"text": "=1+1", "amount": None} and told["given"] == {"came_from": "C-1"}
    tree = etree.fromstring(values_xml(VALUES))
    SCHEMA.assertValid(tree)
    assert tree.xpath("//v:row[1]/v:cell[@key='text']/text()", namespaces={"v": XML}) == ["Rope <8>"]
    assert list(csv.reader(io.StringIO(values_csv(VALUES).decode()))) == [
        ["Document", "Seller & Co", "Total", "Text", "Amount"],
        ["D7", "Brevanne", "99.50", "Rope <8>", "12.50"], ["D7", "Brevanne", "99.50", "'=1+1", ""],
    ]  # fmt: skip
    bare = DocumentValues("D8", "note", 1, VALUES.fields, {}, [], {})
    assert values_csv(bare).decode().splitlines() == ["Document,Seller & Co,Total", "D8,,"]


@given(text=st.text(), name=st.text())
def test_whatever_a_value_says_the_files_can_be_read(text: str, name: str) -> None:
    document = DocumentValues("D1", "note", 1, [("a", name), ("b", "B")], {"a": text, "b": "end"},
                              [TableValues("t", name, [("c", name)], [{"c": text}])], {"g": text})  # fmt: skip
    SCHEMA.assertValid(etree.fromstring(values_xml(document)))
    assert json.loads(values_json(document))["fields"]["b"] == "end"
    ET.fromstring(rendered(Written(written(text).pages, text, document), "alto").data)
    ET.fromstring(rendered(Written(written(text).pages, text, document), "hocr").data.replace(b"<!DOCTYPE html>", b""))
