"""Cleaning a page that was scanned: dark borders, punch holes and specks away, colours as wanted.

Every step is wished for by the lane, says what it did, and can be undone on one page. What is cleaned is the copy that
is read, shown and delivered; the file that arrived stays as it is.
"""

from __future__ import annotations

from collections.abc import Callable, Collection
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict

from zestpail.core.reading.connected import connected
from zestpail.core.reading.geometry import Affine
from zestpail.core.reading.page import Preparation, Step
from zestpail.core.reading.preparation.prepare import Prepared, evened, grey_of

LOOKED_AT = 75.0
"""Dots per inch at which borders and holes are looked for."""
DARK = 0.5
"""A border or a hole is darker than this share of the paper."""
LEAST_BORDER, MOST_BORDER = 0.3, 35.0
"""Millimetres that a border is wide."""
RUN = 15.0
"""Millimetres along the edge that a border runs at least; what is shorter is print that touches the edge."""
SOFT = 0.8
"""Millimetres round a border or hole that are half dark."""
RIM, HOLE = 22.0, (3.5, 9.0)
"""How far from the edge punch holes lie, and how wide they are, in millimetres."""
ROUND = 0.9
"""How much of a hole and of the ellipse in its box is common to both, in [0, 1]."""
BESIDE, PRINT = 2.5, 1.2
"""Within so many millimetres of a hole nothing lies that is this tall or wide."""
SPECK, ALONE = 0.45, 1.5
"""How large a speck is at most, and how far from everything else it lies at least, in millimetres."""
ROW = 3.0
"""Millimetres within which another speck at the same height makes both a dotted line, which stays."""
MOST_SPECKS = 4000
"""More than this on a page are grain, which is smoothed when the page is read."""


class Cleaning(BaseModel):
    """How a lane wants its scanned pages."""

    model_config = ConfigDict(frozen=True)

    skew: Literal["straightened", "left_crooked"] = "straightened"
    borders: Literal["kept", "cleared", "cut_off"] = "kept"
    """What a scanner's lid leaves dark round the paper."""
    holes: Literal["kept", "filled"] = "kept"
    specks: Literal["kept", "removed"] = "kept"
    colours: Literal["as_scanned", "grey", "black_and_white"] = "as_scanned"


CLEANING: dict[str, dict[str, str]] = {
    "skew": {"straightened": "straightened", "left_crooked": "left crooked"},
    "borders": {"kept": "kept", "cleared": "cleared", "cut_off": "cut off"},
    "holes": {"kept": "kept", "filled": "filled"},
    "specks": {"kept": "kept", "removed": "removed"},
    "colours": {"as_scanned": "as scanned", "grey": "grey", "black_and_white": "black and white"},
}
"""What the choices of each setting are called."""

USUAL = Cleaning()


def cleaned(page: Prepared, dpi: float, wanted: Cleaning, without: Collection[Step] = ()) -> Prepared:
    """The page without its borders, holes and specks, as far as that is wanted."""
    steps: list[tuple[bool, Step, Callable[[Prepared, float], Prepared]]] = [
        (wanted.borders == "cleared", "borders_cleared", _borders_cleared),
        (wanted.borders == "cut_off", "borders_cut_off", _borders_cut_off),
        (wanted.holes == "filled", "holes_filled", _holes_filled),
        (wanted.specks == "removed", "specks_removed", _specks_removed),
    ]
    for is_wanted, step, take in steps:
        if is_wanted and step not in without:
            page = take(page, dpi)
    return page


def coloured(page: Prepared, wanted: Cleaning, without: Collection[Step] = ()) -> Prepared:
    """The page in grey, or in black and white by the threshold that tells ink and paper apart best (Otsu 1979)."""
    if wanted.colours == "grey" and page.pixels.ndim == 3 and "made_grey" not in without:
        return _done(page, grey_of(page.pixels), "made_grey")
    if wanted.colours == "black_and_white" and "made_black_and_white" not in without:
        grey = grey_of(page.pixels)
        even = evened(grey)
        _, pixels = cv2.threshold(grey if even is None else even, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
        return _done(page, np.asarray(pixels, np.uint8), "made_black_and_white")
    return page


def cut_to(page: Prepared, left: int, top: int, right: int, bottom: int, step: Step) -> Prepared:
    """What lies between these pixels; the page as it is where that is nothing."""
    height, width = page.pixels.shape[:2]
    left, top, right, bottom = max(left, 0), max(top, 0), min(right, width), min(bottom, height)
    if right - left < 16 or bottom - top < 16 or (right - left, bottom - top) == (width, height):
        return page
    pixels = np.ascontiguousarray(page.pixels[top:bottom, left:right])
    return Prepared(pixels, Affine(1, 0, left, 0, 1, top).then(page.back), (*page.steps, Preparation(step=step)))


def hole_shaped(
    shape: NDArray[np.bool_], x: int, y: int, width: int, height: int, mm: float, least: float = 0.6
) -> bool:
    """Whether a shape is a disc or a thick ring, as wide as a punch hole, and near an edge (pixels).

    Of the square round it at least the share ``least`` is dark (a disc has 0.78, a thick ring less). Letters of that
    size fill their corners or are open: the shape must be nearly all of the ellipse in its box.
    """
    high, wide = shape.shape
    low, most = HOLE[0] * mm, HOLE[1] * mm
    if not (low <= wide <= most and low <= high <= most and 0.8 <= wide / high <= 1.25):
        return False
    if min(x + wide / 2, width - x - wide / 2, y + high / 2, height - y - high / 2) >= RIM * mm:
        return False
    outline, _ = cv2.findContours(shape.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    filled = cv2.drawContours(np.zeros(shape.shape, np.uint8), outline, -1, 1, -1)
    centre, halves = ((wide - 1) / 2, (high - 1) / 2), (wide / 2, high / 2)
    ys, xs = np.mgrid[0:high, 0:wide]
    disc = ((xs - centre[0]) / halves[0]) ** 2 + ((ys - centre[1]) / halves[1]) ** 2 <= 1
    alike = float((disc & (filled > 0)).sum() / (disc | (filled > 0)).sum())
    return alike >= ROUND and float(shape.sum()) > least * wide * high


def _done(page: Prepared, pixels: NDArray[np.uint8], step: Step, count: int = 0) -> Prepared:
    return Prepared(pixels, page.back, (*page.steps, Preparation(step=step, count=count)))


def _paper(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """The colour that most of the page has, as far as it is bright."""
    thin = pixels[::8, ::8].reshape(-1, *pixels.shape[2:])
    light = thin if thin.ndim == 1 else thin.mean(axis=1)
    return np.asarray(np.median(thin[light >= np.percentile(light, 40)], axis=0), np.uint8)


def _small_dark(pixels: NDArray[np.uint8], dpi: float) -> tuple[NDArray[np.uint8], float]:
    """Where the page is dark, in small, and the factor to it."""
    factor = min(LOOKED_AT / dpi, 1.0)
    small = cv2.resize(grey_of(pixels), None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    return np.asarray(small < DARK * float(np.percentile(small, 80)), np.uint8), factor


def _borders(pixels: NDArray[np.uint8], dpi: float) -> tuple[NDArray[np.uint8], list[NDArray[np.intp]], float]:
    """A mask of the dark borders in small, their widths along the left, top, right and bottom edge, and the factor."""
    dark, factor = _small_dark(pixels, dpi)
    mm = dpi * factor / 25.4
    mask, widths = np.zeros_like(dark), []
    for quarter in range(4):  # each edge in turn is the left one
        lying = np.rot90(dark, quarter)
        runs = np.cumprod(lying[:, : int(MOST_BORDER * mm)], axis=1).sum(axis=1)
        runs = _steady(runs, max(round(RUN * mm), 3))
        runs[runs < LEAST_BORDER * mm] = 0
        found = np.arange(lying.shape[1])[None, :] < runs[:, None]
        mask |= np.rot90(found, -quarter).astype(np.uint8)
        widths.append(runs)
    return mask, widths, factor


def _steady(runs: NDArray[np.intp], reach: int) -> NDArray[np.intp]:
    """The runs without those that are longer than what lies beside them for ``reach`` pixels."""
    high = cv2.morphologyEx(runs.astype(np.float32)[:, None], cv2.MORPH_OPEN, np.ones((reach, 1), np.uint8))
    return np.asarray(high[:, 0], np.intp)


def _borders_cleared(page: Prepared, dpi: float) -> Prepared:
    mask, _, factor = _borders(page.pixels, dpi)
    if not mask.any():
        return page
    soft = max(round(SOFT * dpi * factor / 25.4), 1)
    mask = cv2.dilate(mask, np.ones((2 * soft + 1, 2 * soft + 1), np.uint8)).astype(np.uint8)
    height, width = page.pixels.shape[:2]
    whole = cv2.resize(mask, (width, height), interpolation=cv2.INTER_NEAREST)
    pixels = page.pixels.copy()
    pixels[whole > 0] = _paper(page.pixels)
    return _done(page, pixels, "borders_cleared")


def _borders_cut_off(page: Prepared, dpi: float) -> Prepared:
    """Cut where a border runs along nine tenths of an edge; what then is left of it is cleared."""
    _, widths, factor = _borders(page.pixels, dpi)
    left, top, right, bottom = (round(float(np.percentile(widths[at], 10)) / factor) for at in (0, 3, 2, 1))
    height, width = page.pixels.shape[:2]
    origin = cut_to(page, left, top, width - right, height - bottom, "borders_cut_off")
    clear = _borders_cleared(origin, dpi)
    return Prepared(clear.pixels, clear.back, origin.steps) if origin is not page else clear


def _holes_filled(page: Prepared, dpi: float) -> Prepared:
    dark, factor = _small_dark(page.pixels, dpi)
    mm = dpi * factor / 25.4
    height, width = dark.shape
    labels, stats, centres = connected(dark)
    found = [at for at in range(1, len(stats)) if _is_hole(labels, stats, at, width, height, mm)]
    pixels = page.pixels.copy() if found else page.pixels
    for at in found:
        (x, y), reach = centres[at] / factor, (max(stats[at][2:4]) / 2 + SOFT * mm) / factor
        beyond = pixels[_around(y, 2 * reach), _around(x, 2 * reach)]
        paper = _paper(np.repeat(np.repeat(beyond, 4, axis=0), 4, axis=1))
        cv2.circle(pixels, (round(float(x)), round(float(y))), round(float(reach)), _colour(paper), -1)
    return _done(page, pixels, "holes_filled", len(found)) if found else page


def _is_hole(labels: NDArray[np.int32], stats: NDArray[np.int32], at: int, width: int, height: int, mm: float) -> bool:
    """Whether it has the shape of a hole and nothing as large as print lies beside it: discs of a logo have letters."""
    x, y, wide, high = (int(v) for v in stats[at][:4])
    if not hole_shaped(labels[y : y + high, x : x + wide] == at, x, y, width, height, mm, least=0.74):
        return False
    reach = round(BESIDE * mm)
    beside = labels[max(y - reach, 0) : y + high + reach, max(x - reach, 0) : x + wide + reach]
    others = [int(n) for n in np.unique(beside) if n not in (0, at)]
    return not any(stats[n][2:4].max() >= PRINT * mm for n in others)


def _around(at: float, reach: float) -> slice:
    return slice(max(int(at - reach), 0), int(at + reach) + 1)


def _colour(paper: NDArray[np.uint8]) -> tuple[int, ...]:
    return tuple(int(v) for v in np.atleast_1d(paper))


def _specks_removed(page: Prepared, dpi: float) -> Prepared:
    mm = dpi / 25.4
    grey = grey_of(page.pixels)
    paper = int(np.median(grey[::4, ::4]))
    ink = (grey < 0.8 * paper).astype(np.uint8)
    labels, stats, centres = connected(ink)
    small = stats[:, 2:4].max(axis=1) <= max(SPECK * mm, 2)
    small[0] = False
    large = ~small
    large[0] = False
    reach = 2 * round(ALONE * mm) + 1
    near = cv2.dilate(large[labels].astype(np.uint8), np.ones((reach, reach), np.uint8))
    at = np.flatnonzero(small)
    places = centres[at].astype(int)
    at = at[near[places[:, 1], places[:, 0]] == 0]
    if not 0 < len(at) <= MOST_SPECKS:
        return page
    at = at[~_in_rows(centres[at], mm)]
    if not len(at):
        return page
    chosen = np.zeros(len(stats), bool)
    chosen[at] = True
    spots = cv2.dilate(chosen[labels].astype(np.uint8), np.ones((3, 3), np.uint8))
    pixels = page.pixels.copy()
    pixels[spots > 0] = _paper(page.pixels)
    return _done(page, pixels, "specks_removed", len(at))


def _in_rows(centres: NDArray[np.float64], mm: float) -> NDArray[np.bool_]:
    """Which specks have another one beside them at their own height."""
    off = np.abs(centres[:, None, :] - centres[None, :, :])
    beside = (off[:, :, 0] < ROW * mm) & (off[:, :, 1] < 0.3 * mm)
    np.fill_diagonal(beside, val=False)
    return np.asarray(beside.any(axis=1))
