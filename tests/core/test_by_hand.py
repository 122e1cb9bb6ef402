"""Single pages: cleaning takes dirt and no print, black is black everywhere, places stay where they are."""

from __future__ import annotations

import io
from pathlib import Path

import cv2
import numpy as np
import pikepdf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw, ImageFont

from zestpail.core.reading.geometry import Box, scaling
from zestpail.core.reading.opening import OpenedPage, open_page
from zestpail.core.reading.page import PageReading, Step
from zestpail.core.reading.preparation.cleaning import Cleaning, cleaned, coloured
from zestpail.core.reading.preparation.edits import PageEdits, box_of, place_of
from zestpail.core.reading.preparation.prepare import Prepared, straightened, turned
from zestpail.core.reading.read import ReadPage, read_page
from zestpail.core.writing.notes_on_pages import NoteOnPage, burnt_in
from zestpail.core.writing.searchable_pdf import PageToWrite, searchable_pdf
from zestpail.core.writing.text_pages import text_pdf

DPI, MM = 200, 200 / 25.4
ALL = Cleaning(borders="cleared", holes="filled", specks="removed")


def printed() -> np.ndarray:
    """A sheet of A5 with bold letters as large as punch holes at its left, lines of print, and a row of dots."""
    image = Image.new("L", (1166, 1654), 250)
    draw = ImageDraw.Draw(image)
    for at, lane_settings in enumerate("BOD08"):
        draw.text((60, 150 + 140 * at), lane_settings, font=ImageFont.load_default(62), fill=10, stroke_width=4)
        draw.text((300, 160 + 140 * at), f"Berth {lane_settings} 4.50 i: j;", font=ImageFont.load_default(34), fill=20)
    draw.text((300, 1000), "." * 40, font=ImageFont.load_default(26), fill=20)
    return np.asarray(image, np.uint8)


def dirty(pixels: np.ndarray) -> np.ndarray:
    """The sheet on a dark lid, tilted, with two holes and sixty specks."""
    soiled = pixels.copy()
    for y in (0.83, 0.92):
        cv2.circle(soiled, (round(12 * MM), round(y * pixels.shape[0])), round(3 * MM), 40, -1)
    spots = np.random.default_rng(4)
    for _ in range(60):
        x, y = int(spots.integers(700, 1100)), int(spots.integers(1100, 1600))
        soiled[y : y + 2, x : x + 2] = 60
    lid = cv2.copyMakeBorder(soiled, 30, 20, 44, 26, cv2.BORDER_CONSTANT, value=25)
    height, width = lid.shape
    tilt = cv2.getRotationMatrix2D((width / 2, height / 2), 0.8, 1)
    return np.asarray(cv2.warpAffine(lid, tilt, (width, height), borderValue=25), np.uint8)


def test_cleaning_takes_dirt_and_leaves_print() -> None:
    clean = printed()
    untouched = cleaned(Prepared(clean, scaling(1)), DPI, ALL)
    assert untouched.steps == (), "letters as large as holes, dots of letters and dotted lines are no dirt"
    done = cleaned(Prepared(dirty(clean), scaling(1)), DPI, ALL)
    message = [step.message for step in done.steps]
    assert message[:2] == ["borders cleared", "2 holes filled"]
    assert 50 <= done.steps[2].count <= 60
    rim = np.concatenate([done.pixels[:60].ravel(), done.pixels[-40:].ravel(), done.pixels[:, :60].ravel()])
    assert rim.min() > 150, "no dark border is left"
    origin = cleaned(Prepared(dirty(clean), scaling(1)), DPI, Cleaning(borders="cut_off"))
    height, width = origin.pixels.shape
    assert (height, width) < dirty(clean).shape
    assert (1640 <= height <= 1690, 1150 <= width <= 1200) == (True, True), "cut to about the sheet, and not into it"
    x, y = origin.back.point(100, 200)
    assert abs(int(dirty(clean)[round(y), round(x)]) - int(origin.pixels[200, 100])) < 5, (
        "it leads back to where it was"
    )


@pytest.mark.parametrize("step", ["borders_cleared", "holes_filled", "specks_removed"])
def test_each_step_can_be_left_out(step: Step) -> None:
    done = cleaned(Prepared(dirty(printed()), scaling(1)), DPI, ALL, without=(step,))
    assert step not in [one.step for one in done.steps]
    assert len(done.steps) >= 1


def test_colours() -> None:
    red = np.dstack([np.full((40, 40), 250, np.uint8), *[np.full((40, 40), 90, np.uint8)] * 2])
    red[:, 20:] = 255
    grey = coloured(Prepared(red, scaling(1)), Cleaning(colours="grey"))
    black = coloured(Prepared(red, scaling(1)), Cleaning(colours="black_and_white"))
    assert (grey.pixels.ndim, set(np.unique(black.pixels))) == (2, {0, 255})
    assert coloured(Prepared(red, scaling(1)), Cleaning()).pixels is red


@given(st.sampled_from([0, 90, 180, 270]), st.floats(0, 500), st.floats(0, 500), st.floats(5, 200), st.floats(5, 200))
@settings(max_examples=40, deadline=None)
def test_a_place_stays_where_it_is_however_the_page_is_turned(
    degrees: int, x: float, y: float, wide: float, high: float
) -> None:
    box, page = Box(x, y, x + wide, y + high), Prepared(np.full((1600, 1400), 255, np.uint8), scaling(1))
    upright, lying = reading_of(page), reading_of(turned(page, degrees))
    there = box_of(lying, place_of(upright, box))
    assert box_of(upright, place_of(lying, there)) == pytest.approx(box, abs=1e-6)


def reading_of(page: Prepared) -> PageReading:
    height, width = page.pixels.shape
    return PageReading(
        width=width * 72 / DPI, height=height * 72 / DPI, words=(), source="ocr", engine="", dpi=DPI,
        to_pixels=scaling(DPI / 72).then(page.back),
    )  # fmt: skip


def word(read: ReadPage, text: str) -> Box:
    return next(word.box for word in read.reading.words if text in word.text)


def test_what_is_blacked_out_is_nowhere(demo: Path) -> None:
    """On a scan that lies askew: not in the picture, the words, the delivered PDF, or when it is turned later."""
    opened = open_page((demo / "bight-02.pdf").read_bytes(), 0)
    before = read_page(opened)
    secret, neighbour = word(before, "2,829.60"), word(before, "471.60")
    edits = PageEdits(blacked_out=(place_of(before.reading, secret),))
    for hand in (edits, edits.model_copy(update={"turned": 180})):
        after = read_page(opened, edits=hand)
        box = box_of(after.reading, edits.blacked_out[0])
        left, top, right, bottom = (round(side * after.reading.dpi / 72) for side in box)
        assert after.pixels[top + 3 : bottom - 3, left + 3 : right - 3].max() == 0
        assert not any(box.covers_centre_of(word.box) for word in after.reading.words), "nor is black read as a letter"
        assert "2,829" not in " ".join(word.text for word in after.reading.words)
        assert after.reading.preparation[0].message == "1 place blacked out"
    after = read_page(opened, edits=edits)
    assert word(after, "471.60").shared_area(neighbour) > 0, "what stands beside it stays"
    again = open_page(searchable_pdf([PageToWrite(after.pixels, after.reading)], "x"), 0)
    assert "2,829" not in " ".join(word.text for word in again.layer)


def test_a_page_with_text_of_its_own_is_blacked_out_and_cropped_too() -> None:
    opened = open_page(text_pdf("Pay to account QX9900\nReference 4711\nThank you", "letter"), 0)
    before = read_page(opened)
    assert before.reading.source == "text_layer"
    secret, other = word(before, "QX9900"), word(before, "4711")
    part = Box(0, other.y0 - 4, before.reading.width, other.y1 + 4)
    edits = PageEdits(blacked_out=(place_of(before.reading, secret),), crop=place_of(before.reading, part))
    after = read_page(opened, edits=edits.model_copy(update={"crop": None}))
    assert (after.reading.source, "QX9900" in str(after.reading.words)) == ("text_layer", False)
    cropped = read_page(opened, edits=edits)
    assert [w.text for w in cropped.reading.words] == ["Reference", "4711"]
    assert cropped.reading.height == pytest.approx(part.height, abs=1)
    assert word(cropped, "4711").y0 == pytest.approx(4, abs=1)


def test_a_scan_is_cropped_where_it_was_drawn(demo: Path) -> None:
    opened = open_page((demo / "bight-02.pdf").read_bytes(), 0)
    before = read_page(opened)
    total = word(before, "2,829.60").grown(12)
    after = read_page(opened, edits=PageEdits(crop=place_of(before.reading, total)))
    assert [w.text for w in after.reading.words if "829" in w.text]
    assert (after.reading.width, after.reading.height) == pytest.approx((total.width, total.height), abs=6)
    plain = read_page(opened, edits=PageEdits(without=("straightened",)))
    assert "straightened" not in [step.step for step in plain.reading.preparation]
    assert np.array_equal(plain.pixels, opened.pixels)
    assert straightened(Prepared(opened.pixels, scaling(1))).steps, "which it would have been"


def test_notes_on_delivered_pages() -> None:
    page = np.full((1100, 850), 250, np.uint8)
    opened = OpenedPage(page, 100.0)
    notes = (NoteOnPage("highlight", Box(100, 100, 200, 120), "", "Ines"),
             NoteOnPage("note", Box(100, 300, 300, 340), "ask for the missing page (x)", "Ines"))  # fmt: skip
    reading = read_page(opened).reading
    with pikepdf.open(io.BytesIO(searchable_pdf([PageToWrite(page, reading, notes)], "noted"))) as pdf:
        marker, box = pdf.pages[0].Annots
        assert (marker.Subtype, str(box.Contents), str(box.T)) == ("/Highlight", notes[1].text, "Ines")
        assert [float(side) for side in box.Rect] == pytest.approx([100, 792 - 340, 300, 792 - 300], abs=0.5)
    burnt = burnt_in(page, 612, notes)
    coloured_at = burnt[round(110 * 850 / 612), round(150 * 850 / 612)]
    assert coloured_at[0] < coloured_at[1], "the marker has its colour"
    assert burnt[round(350 * 850 / 612) : round(365 * 850 / 612)].min() < 100, "the words stand under the box"
    assert burnt_in(page, 612, ()) is page
