"""What a scanner, a fax machine or a telephone does to a clean page."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

Page = NDArray[np.uint8]
Chance = np.random.Generator
Damage = Callable[[Page, Chance], Page]


def skew(degrees: float) -> Damage:
    def damage(page: Page, _: Chance) -> Page:
        height, width = page.shape[:2]
        turn = cv2.getRotationMatrix2D((width / 2, height / 2), degrees, 1)
        edge = (255, 255, 255)
        return np.asarray(cv2.warpAffine(page, turn, (width, height), borderValue=edge), np.uint8)

    return damage


def soft(page: Page, chance: Chance) -> Page:
    """An ordinary scan: a little blur, a little grain, paper that is not quite white."""
    blurred = cv2.GaussianBlur(page, (0, 0), 0.7).astype(np.float32)
    grain = chance.normal(0, 3, page.shape[:2]).astype(np.float32)
    return _picture(blurred * 0.94 + 8 + _spread(grain, page))


def noisy(page: Page, chance: Chance) -> Page:
    """A worn sensor: strong grain and specks of dirt."""
    grain = chance.normal(0, 18, page.shape[:2]).astype(np.float32)
    dirty = np.clip(cv2.GaussianBlur(page, (0, 0), 0.8).astype(np.float32) + _spread(grain, page), 0, 255)
    return specks(dirty.astype(np.uint8), chance)


def specks(page: Page, chance: Chance) -> Page:
    page = page.copy()
    for _ in range(220):
        at = int(chance.integers(page.shape[1])), int(chance.integers(page.shape[0]))
        cv2.circle(page, at, int(chance.integers(1, 3)), (60, 60, 60), -1)
    return page


def faint(page: Page, chance: Chance) -> Page:
    """A ribbon at its end: pale print on greyish paper, shaded from one side to the other."""
    shade = np.linspace(0, 34, page.shape[1], dtype=np.float32)[None, :]
    pale = 170 + (page.astype(np.float32) - 90).clip(0, 165) * 0.33
    grain = chance.normal(0, 3, page.shape[:2]).astype(np.float32)
    return np.clip(pale - _spread(np.repeat(shade, page.shape[0], 0), page) + _spread(grain, page), 0, 255).astype(
        np.uint8
    )


def fax(page: Page, chance: Chance) -> Page:
    """Black and white with ragged edges and pepper."""
    grey = cv2.cvtColor(page, cv2.COLOR_RGB2GRAY) if page.ndim == 3 else page
    rough = cv2.GaussianBlur(grey, (0, 0), 0.8).astype(np.float32) + chance.normal(0, 22, grey.shape)
    black = np.where(rough < 140, 0, 255).astype(np.uint8)
    black[chance.random(black.shape) < 0.0006] = 0
    return black


def bilevel(page: Page, _: Chance) -> Page:
    grey = cv2.cvtColor(page, cv2.COLOR_RGB2GRAY) if page.ndim == 3 else page
    return np.where(grey < 150, 0, 255).astype(np.uint8)


def punched(page: Page, _: Chance) -> Page:
    """Two punch holes at the left edge, dark on the scan."""
    page = page.copy()
    height, width = page.shape[:2]
    for share in (0.36, 0.64):
        cv2.circle(page, (int(0.035 * width), int(share * height)), int(0.014 * width), (40, 40, 40), -1)
    return page


def coffee(page: Page, chance: Chance) -> Page:
    """A cup stood on it."""
    height, width = page.shape[:2]
    stain = np.zeros((height, width), np.float32)
    centre = int(width * chance.uniform(0.3, 0.7)), int(height * chance.uniform(0.3, 0.8))
    cv2.circle(stain, centre, int(0.16 * width), 60, int(0.012 * width))
    stain = np.asarray(cv2.GaussianBlur(stain, (0, 0), 3), np.float32)
    colour = np.array([0.5, 0.8, 1.2], np.float32)
    change = stain[..., None] * colour if page.ndim == 3 else stain
    return _picture(page.astype(np.float32) - change)


def photographed(page: Page, chance: Chance) -> Page:
    """A telephone held over it: slight perspective, a shadow across, warm light."""
    height, width = page.shape[:2]
    square = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    bent = square + chance.uniform(-0.008, 0.008, square.shape).astype(np.float32) * width
    view = cv2.getPerspectiveTransform(square, bent.astype(np.float32))
    page = np.asarray(cv2.warpPerspective(page, view, (width, height), borderValue=(238, 236, 230)), np.uint8)
    shadow = np.linspace(1.0, 0.74, height, dtype=np.float32)[:, None, None]
    warm = np.array([1.0, 0.98, 0.92], np.float32)
    return _picture(page.astype(np.float32) * shadow * warm)


def back_of(front: Page, chance: Chance) -> Page:
    """The empty back of a printed page, on which the front shows through, mirrored, pale and soft."""
    grey = cv2.cvtColor(front, cv2.COLOR_RGB2GRAY) if front.ndim == 3 else front
    soft_front = cv2.GaussianBlur(np.ascontiguousarray(grey[:, ::-1]), (0, 0), 3.0).astype(np.float32)
    through = 252 - (255 - soft_front) * float(chance.uniform(0.05, 0.3))
    return _picture(through + chance.normal(0, 2, grey.shape))


def dusty(page: Page, chance: Chance) -> Page:
    """Dust on the glass, and a hair or two of paper."""
    page = page.copy()
    for _ in range(int(chance.integers(10, 160))):
        at = int(chance.integers(page.shape[1])), int(chance.integers(page.shape[0]))
        shade = int(chance.integers(30, 170))
        cv2.ellipse(page, (at, (float(chance.uniform(1, 6)), float(chance.uniform(1, 5))), 0.0), (shade,) * 3, -1)
    return page


def lid(page: Page, chance: Chance) -> Page:
    """The scanner's dark lid beside the paper."""
    page = page.copy()
    wide = int(chance.integers(3, 40))
    shade = int(chance.integers(0, 110))
    side = int(chance.integers(4))
    if side == 0:
        page[:, :wide] = shade
    elif side == 1:
        page[:, -wide:] = shade
    elif side == 2:
        page[:wide] = shade
    else:
        page[-wide:] = shade
    return page


def upside_down(page: Page, _: Chance) -> Page:
    return np.ascontiguousarray(page[::-1, ::-1])


def _picture(values: NDArray[Any]) -> Page:
    return np.asarray(np.clip(values, 0, 255), np.uint8)


def _spread(values: NDArray[np.float32], page: Page) -> NDArray[np.float32]:
    return values[..., None] if page.ndim == 3 else values
