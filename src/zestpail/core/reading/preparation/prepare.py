"""Turning a page upright and straight before it is read, each step saying what it did."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from zestpail.core.reading.geometry import Affine
from zestpail.core.reading.page import Preparation

LEAST_SKEW = 0.15
"""Degrees under which straightening would blur more than it mends."""
MOST_SKEW = 6.0
"""Degrees to either side within which a skew is looked for."""
MOST_SHADE = 24.0
"""How much the paper's brightness (0 to 255) may vary over the page before it is evened out."""
LEAST_CONTRAST = 120.0
"""Grey levels between ink and paper from which on an even page is left as it is."""
LEAST_GRAIN = 2.0
"""How far (0 to 255) a page's pixels usually stand off their neighbours before the page counts as grainy."""

_TURNS = {90: cv2.ROTATE_90_CLOCKWISE, 180: cv2.ROTATE_180, 270: cv2.ROTATE_90_COUNTERCLOCKWISE}


@dataclass(frozen=True)
class Prepared:
    """A page image made ready, the transform from its pixels back to those that arrived, and what was done."""

    pixels: NDArray[np.uint8]
    back: Affine
    steps: tuple[Preparation, ...] = ()


def turned(page: Prepared, degrees: int) -> Prepared:
    """The page turned clockwise by 90, 180 or 270 degrees; by 0 it stays as it is."""
    if degrees == 0:
        return page
    height, width = page.pixels.shape[:2]
    to_before = {
        90: Affine(0, 1, 0, -1, 0, height),
        180: Affine(-1, 0, width, 0, -1, height),
        270: Affine(0, -1, width, 1, 0, 0),
    }[degrees]
    pixels = np.asarray(cv2.rotate(page.pixels, _TURNS[degrees]), dtype=np.uint8)
    done = Preparation(step="turned", degrees=degrees)
    return Prepared(pixels, to_before.then(page.back), (*page.steps, done))


def straightened(page: Prepared) -> Prepared:
    """The page turned so that its lines of text run level; as it is where they nearly do."""
    angle = skew_of(page.pixels)
    if abs(angle) < LEAST_SKEW:
        return page
    height, width = page.pixels.shape[:2]
    turn = cv2.getRotationMatrix2D((width / 2, height / 2), angle, 1.0)
    paper = int(np.median(page.pixels[::8, ::8]))
    pixels = np.asarray(
        cv2.warpAffine(page.pixels, turn, (width, height), flags=cv2.INTER_LINEAR, borderValue=(paper, paper, paper)),
        dtype=np.uint8,
    )
    if bitonal(page.pixels):
        pixels = np.where(pixels > 127, 255, 0).astype(np.uint8)
    to_before = Affine(*(float(v) for v in turn.reshape(-1))).inverse()
    done = Preparation(step="straightened", degrees=round(angle, 2))
    return Prepared(pixels, to_before.then(page.back), (*page.steps, done))


def for_reading(page: Prepared) -> Prepared:
    """The page as the engine reads it best: shading taken out, contrast stretched, grain and specks smoothed.

    A person is shown the page as it looks; only the steps are kept. Black and white pages stay as they are: smoothing
    them loses thin strokes (see docs/reading.md).
    """
    if bitonal(page.pixels):
        return page
    pixels, steps = grey_of(page.pixels), page.steps
    even = evened(pixels)
    if even is not None:
        pixels, steps = even, (*steps, Preparation(step="evened_out"))
    if grain_of(pixels) >= LEAST_GRAIN:
        pixels = np.asarray(cv2.medianBlur(pixels, 3), dtype=np.uint8)
        steps = (*steps, Preparation(step="specks_smoothed"))
    return Prepared(pixels, page.back, steps) if steps != page.steps else page


def evened(grey: NDArray[np.uint8]) -> NDArray[np.uint8] | None:
    """The grey page with its shading taken out and its contrast stretched; None where it needs neither.

    The paper's shade is estimated on a small copy (the brightest thing within a few millimetres) and divided out.
    """
    small = cv2.resize(grey, None, fx=0.125, fy=0.125, interpolation=cv2.INTER_AREA)
    paper = cv2.GaussianBlur(cv2.dilate(small, np.ones((9, 9), np.uint8)), (0, 0), 6)
    dark, light = np.percentile(small, 0.5), np.percentile(small, 60)
    if float(np.ptp(np.percentile(paper, [5, 95]))) < MOST_SHADE and light - dark > LEAST_CONTRAST:
        return None
    height, width = grey.shape
    shade = cv2.resize(np.maximum(paper, 1).astype(np.float32), (width, height), interpolation=cv2.INTER_LINEAR)
    flat = np.asarray(cv2.divide(grey, shade, scale=255, dtype=cv2.CV_32F), dtype=np.float32)
    black = min(float(np.percentile(flat[::4, ::4], 0.3)), 242.0)
    stretch = 255 / (255 - black)
    return np.asarray(
        cv2.convertScaleAbs(np.maximum(flat, black), alpha=stretch, beta=-black * stretch), dtype=np.uint8
    )


def grain_of(grey: NDArray[np.uint8]) -> float:
    """How far pixels usually stand off the median of their neighbours (0 to 255), measured on a few strips.

    Print and clean paper give 0 whatever is on them; only noise that lies over the whole page gives more.
    """
    step = max(grey.shape[0] // 12, 1)
    strips = [grey[at : at + 24] for at in range(step, grey.shape[0] - 24, step)]
    off = [np.median(np.abs(strip.astype(np.int16) - cv2.medianBlur(strip, 3))) for strip in strips]
    return float(np.median(off)) if off else 0.0


def grey_of(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """The page without its colours."""
    return pixels if pixels.ndim == 2 else np.asarray(cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY), dtype=np.uint8)


def bitonal(pixels: NDArray[np.uint8]) -> bool:
    """Whether the page is pure black and white, as fax machines and many scanners send it."""
    if pixels.ndim == 3:
        return False
    thin = pixels[::3, ::3]
    return float(((thin > 12) & (thin < 243)).mean()) < 0.002


def skew_of(pixels: NDArray[np.uint8]) -> float:
    """The angle in degrees, clockwise positive, by which lines of text are tilted.

    Projection profiles: at the right angle the rows of ink are sharpest (Postl 1986); measured on a quarter-size
    copy in two passes, coarse then fine. Ties go to the smaller angle.
    """
    grey = pixels if pixels.ndim == 2 else pixels[:, :, 1]
    factor = 1200 / max(grey.shape)
    small = cv2.resize(grey, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    ink = (small < min(160, 0.75 * float(np.median(small)))).astype(np.float32)
    edge = max(4, int(0.02 * ink.shape[1]))
    ink = ink[edge:-edge, edge:-edge]
    rows, xs = np.nonzero(ink)
    if len(rows) < 200:
        return 0.0
    ys = rows + np.random.default_rng(0).random(len(rows))  # whole rows would favour the angle 0
    coarse = _sharpest(xs, ys, np.arange(-MOST_SKEW, MOST_SKEW + 0.01, 0.25))
    return _sharpest(xs, ys, np.arange(coarse - 0.25, coarse + 0.251, 0.05))


def _sharpest(xs: NDArray[np.intp], ys: NDArray[np.float64], angles: NDArray[np.float64]) -> float:
    best, best_score = 0.0, -1.0
    for angle in sorted(angles, key=abs):
        rows = ys - xs * np.tan(np.radians(angle))
        profile = np.bincount(np.floor(rows - rows.min()).astype(np.intp)).astype(np.float64)
        score = float(np.square(np.diff(profile)).sum())
        if score > best_score * 1.0001:
            best, best_score = float(angle), score
    return best
