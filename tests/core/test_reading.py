"""From files to pages to words: places that survive every turn, and files that end in a sentence."""

from __future__ import annotations

import io
import shutil
import struct
from dataclasses import replace
from pathlib import Path

import cv2
import numpy as np
import pikepdf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.bad_files import SENTENCES, write_bad_files
from tests.core.paper import page
from zestpail.core.problems import Unreadable
from zestpail.core.reading.engines import second_reader
from zestpail.core.reading.geometry import Affine, Box, scaling
from zestpail.core.reading.limits import Limits
from zestpail.core.reading.opening import OpenedPage, count_pages, open_page
from zestpail.core.reading.page import unpacked
from zestpail.core.reading.preparation.letter_height import letter_height, reading_scale
from zestpail.core.reading.preparation.prepare import (
    Prepared,
    for_reading,
    grain_of,
    skew_of,
    straightened,
    turned,
)
from zestpail.core.reading.read import look_again, read_clip, read_page
from zestpail.core.reading.text_layer import can_be_trusted

lengths = st.floats(-500, 500)

pytestmark = pytest.mark.usefixtures("every_page_read")


@given(st.floats(-3, 3), st.floats(0.2, 3), lengths, lengths, lengths, lengths)
def test_a_transform_and_its_inverse_lead_back(
    turn: float, scale: float, c: float, f: float, x: float, y: float
) -> None:
    cos, sin = scale * np.cos(turn), scale * np.sin(turn)
    there = Affine(cos, -sin, c, sin, cos, f)
    assert there.then(there.inverse()).point(x, y) == pytest.approx((x, y), abs=1e-6)


@pytest.mark.parametrize("degrees", [90, 180, 270])
def test_a_turned_page_leads_back_to_the_pixel_it_came_from(degrees: int) -> None:
    pixels = np.zeros((40, 30), np.uint8)
    pixels[10, 20] = 255
    done = turned(Prepared(pixels, scaling(1)), degrees)
    y, x = np.argwhere(done.pixels == 255)[0]
    back = done.back.point(float(x) + 0.5, float(y) + 0.5)
    assert back == (20.5, 10.5)
    assert done.steps[0].degrees == degrees


@pytest.mark.parametrize("degrees", [-2.3, -0.4, 0.0, 0.7, 1.8])
def test_skew_is_measured_and_taken_out(demo: Path, degrees: float) -> None:
    straight = open_page((demo / "brevanne-01.pdf").read_bytes(), 0).pixels
    height, width = straight.shape[:2]
    turn = cv2.getRotationMatrix2D((width / 2, height / 2), -degrees, 1.0)
    tilted = np.asarray(cv2.warpAffine(straight, turn, (width, height), borderValue=(255, 255, 255)), np.uint8)
    assert skew_of(tilted) == pytest.approx(degrees, abs=0.06)
    if abs(degrees) > 0.15:
        done = straightened(Prepared(tilted, scaling(1)))
        assert abs(skew_of(done.pixels)) <= 0.06
        assert done.steps[0].step == "straightened"


def test_grain_is_smoothed_for_reading_only_and_clean_and_fax_pages_are_left_alone(demo: Path) -> None:
    clean = open_page((demo / "bight-02.pdf").read_bytes(), 0).pixels
    assert [step.step for step in for_reading(Prepared(clean, scaling(1))).steps] == ["evened_out"]
    grain = np.random.default_rng(1).normal(0, 18, clean.shape)
    grainy = np.clip(clean + grain, 0, 255).astype(np.uint8)
    done = for_reading(Prepared(grainy, scaling(1)))
    assert [step.step for step in done.steps] == ["evened_out", "specks_smoothed"]
    assert grain_of(done.pixels) < grain_of(grainy) / 2
    fax = np.where(grainy < 140, 0, 255).astype(np.uint8)
    assert for_reading(Prepared(fax, scaling(1))).pixels is fax


def test_a_fine_scan_is_read_smaller_and_its_words_lie_where_they_did(demo: Path) -> None:
    usual = open_page((demo / "bight-02.pdf").read_bytes(), 0)
    larger = np.asarray(cv2.resize(usual.pixels, None, fx=1.5, fy=1.5, interpolation=cv2.INTER_CUBIC), dtype=np.uint8)
    fine = replace(usual, pixels=larger, dpi=usual.dpi * 1.5)
    assert letter_height(larger) == pytest.approx(1.5 * (letter_height(usual.pixels) or 0), abs=1.5)
    assert (reading_scale(usual.pixels), reading_scale(larger)) == (1.0, pytest.approx(0.5, abs=0.04))
    before, after = (read_page(opened, second=False).reading.words for opened in (usual, fine))
    places = {word.text: word.box for word in before if sum(w.text == word.text for w in before) == 1}
    again = [word for word in after if word.text in places]
    assert len(again) >= 0.95 * len(places)
    for word in again:
        was = places[word.text]
        assert (word.box.cx, word.box.cy) == pytest.approx((was.cx, was.cy), abs=2), word.text


def test_the_best_way_reads_words_in_their_places_and_the_other_reader_looks_again(demo: Path) -> None:
    whole = open_page((demo / "bight-04.pdf").read_bytes(), 0)
    header = OpenedPage(whole.pixels[:700], whole.dpi, ())
    best, ordinary = read_page(header, "best"), read_page(header)
    assert best.reading.engine != ordinary.reading.engine
    ours, theirs = ({w.text: w.box for w in read.reading.words} for read in (best, ordinary))
    both = [(ours[text], theirs[text]) for text in ours.keys() & theirs.keys() - {"Quillon", "Harbour"}]
    assert len(both) > 12
    close = [one for one, other in both if one.covers_centre_of(other) and abs(one.width - other.width) < 5]
    assert len(close) >= 0.9 * len(both)
    number = next(word for word in best.reading.words if word.text.startswith("BB-"))
    assert second_reader.agree(look_again(best, number.box) or "", number.text)


def test_a_page_that_stands_on_its_head_is_read_and_leads_back(demo: Path) -> None:
    opened = open_page((demo / "tremarec-01.pdf").read_bytes(), 0)
    read = read_page(opened)
    assert ("turned", 180.0) in [(p.step, p.degrees) for p in read.reading.preparation]
    word = next(w for w in read.reading.words if w.text == "VT/26-312")
    on_arrival = read.reading.to_pixels.box(word.box)
    height, width = opened.pixels.shape[:2]
    prepared = Box(*(edge * read.reading.dpi / 72 for edge in word.box))
    assert on_arrival.cx == pytest.approx(width - prepared.cx, abs=12)
    assert on_arrival.cy == pytest.approx(height - prepared.cy, abs=12)


def test_a_drawn_box_is_read_again(demo: Path) -> None:
    read = read_page(open_page((demo / "bight-02.pdf").read_bytes(), 0))
    word = next(w for w in read.reading.words if w.text.startswith("BB-"))
    again = read_clip(read.pixels, read.reading.dpi, word.box.grown(3))
    assert [w.text for w in again] == [word.text]
    assert again[0].box.shared_area(word.box) > 0.7 * word.box.width * word.box.height
    assert read_clip(read.pixels, read.reading.dpi, Box(300, 600, 360, 640)) == ()


def test_a_text_layer_is_trusted_only_if_it_covers_the_ink_and_is_not_scrambled(demo: Path) -> None:
    born = open_page((demo / "brevanne-01.pdf").read_bytes(), 0)
    assert can_be_trusted(born.layer, born.pixels, born.dpi)
    scrambled = tuple(w.model_copy(update={"text": "\ue001" * len(w.text)}) for w in born.layer)
    assert not can_be_trusted(scrambled, born.pixels, born.dpi)
    assert not can_be_trusted(born.layer[:20], born.pixels, born.dpi)
    assert read_page(born).reading.source == "text_layer"
    assert read_page(OpenedPage(born.pixels, born.dpi)).reading.source == "ocr"


def test_a_pdf_page_that_is_shown_turned_has_its_words_where_they_are_shown(demo: Path) -> None:
    opened = open_page(_turned_pdf(demo / "brevanne-01.pdf", content=True), 0)
    assert opened.width < opened.height
    word = next(w for w in opened.layer if w.text == "FACTURE")
    left, top, right, bottom = (round(edge * opened.dpi / 72) for edge in word.box)
    grey = opened.pixels if opened.pixels.ndim == 2 else opened.pixels[:, :, 1]
    assert (grey[top:bottom, left:right] < 100).mean() > 0.05


def test_a_pdf_page_that_lies_on_its_side_is_read_instead(demo: Path) -> None:
    opened = open_page(_turned_pdf(demo / "brevanne-01.pdf", content=False), 0)
    assert opened.width > opened.height
    read = read_page(opened).reading
    assert (read.source, read.width < read.height) == ("ocr", True)
    assert "F2600178" in [w.text for w in read.words]


def _turned_pdf(path: Path, content: bool) -> bytes:
    """The page shown turned by 90 degrees, its content turned the other way first if asked for."""
    out = io.BytesIO()
    with pikepdf.open(path) as pdf:
        page = pdf.pages[0]
        width, height = (float(v) for v in page.mediabox[2:])
        if content:
            page.contents_add(f"q 0 1 -1 0 {height} 0 cm".encode(), prepend=True)
            page.contents_add(b"Q")
            page.mediabox = [0, 0, height, width]
        page.rotate(90, relative=True)
        pdf.save(out)
    return out.getvalue()


def test_pages_of_all_forms_are_counted(demo: Path, tmp_path: Path) -> None:
    assert count_pages((demo / "hallig-01.tif").read_bytes()) == 2
    assert count_pages((demo / "dredgemoor-01.pdf").read_bytes()) == 2
    assert count_pages((demo / "bight-03.jpg").read_bytes()) == 1
    with pytest.raises(Unreadable, match="has 2 pages; at most 1"):
        count_pages((demo / "hallig-01.tif").read_bytes(), Limits(max_pages=1))
    picture = tmp_path / "see-through.png"
    Image.new("RGBA", (900, 1200), (0, 0, 0, 0)).save(picture)
    assert open_page(picture.read_bytes(), 0).pixels.min() == 255


def test_bad_files_end_in_a_sentence(tmp_path: Path) -> None:
    for path in write_bad_files(tmp_path):
        with pytest.raises(Unreadable) as problem:
            for index in range(count_pages(path.read_bytes())):
                open_page(path.read_bytes(), index)
        assert str(problem.value) == SENTENCES[path.name], path.name
    shutil.rmtree(tmp_path)


@pytest.mark.parametrize("shade", [255, 240, 0])
def test_a_blank_page_has_no_words(shade: int) -> None:
    for pixels in (np.full((2339, 1653), shade, np.uint8), np.full((600, 450, 3), shade, np.uint8)):
        assert read_page(OpenedPage(pixels, 200)).reading.words == ()


def test_a_reading_is_stored_and_comes_back_the_same() -> None:
    reading = page("Total EUR 1,597.68")
    assert unpacked(reading.packed()) == reading


def test_what_a_pdf_says_of_itself_is_kept_without_what_no_database_takes() -> None:
    out = io.BytesIO()
    with pikepdf.new() as pdf:
        pdf.add_blank_page()
        pdf.docinfo["/Author"], pdf.docinfo["/Title"] = "Wellenbau\x00 KG\n", "Rechnung 2026/0569" + "x" * 1000
        pdf.save(out)
    opened = open_page(out.getvalue(), 0)
    assert opened.author == "Wellenbau KG"
    assert opened.title.startswith("Rechnung 2026/0569")
    assert len(opened.title) <= 200
    assert opened.drawn


def test_grey_of_sixteen_bits_and_of_shares_looks_the_same() -> None:
    ramp = np.linspace(0, 255, 80 * 60).reshape(60, 80)
    for values, kind in (
        (ramp.astype(np.uint8), "PNG"), ((ramp * 257).astype(np.uint16), "TIFF"),
        ((ramp * 257).astype(np.uint16), "PNG"),
        ((ramp * 16).astype(np.uint16), "TIFF"), ((ramp / 255).astype(np.float32), "TIFF"),
    ):  # fmt: skip
        out = io.BytesIO()
        Image.fromarray(values).save(out, kind)
        assert np.abs(open_page(out.getvalue(), 0).pixels - ramp).max() < 2, (values.dtype, kind)


def test_why_a_picture_is_not_read() -> None:
    out = io.BytesIO()
    Image.new("L", (40, 40), 255).save(out, "TIFF")
    odd = bytearray(out.getvalue())
    at = odd.index(struct.pack("<HHI", 258, 3, 1))  # bits of each grey
    odd[at + 8 : at + 10] = struct.pack("<H", 7)
    with pytest.raises(Unreadable, match="damaged, or of a kind that cannot be read"):
        count_pages(bytes(odd))
    with pytest.raises(Unreadable, match="damaged or was cut short"):
        open_page(out.getvalue()[:-800], 0)
