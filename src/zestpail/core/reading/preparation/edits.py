"""What a person did to one page: turned it, cut it to a part, blacked something out, undid a step of its cleaning.

Places are kept as they lie on the page as it arrived (points), so that they hold however the page is later prepared.
"""

from __future__ import annotations

from typing import Literal

import cv2
import numpy as np
from pydantic import BaseModel, ConfigDict

from zestpail.core.reading.geometry import Box, around, scaling
from zestpail.core.reading.opening import OpenedPage
from zestpail.core.reading.page import PageReading, StepCode
from zestpail.core.reading.preparation.cleaning import cut_to
from zestpail.core.reading.preparation.prepare import Prepared

Place = tuple[tuple[float, float], ...]
"""Four corners, in points of the page as it arrived."""
RIM = 0.5
"""Points by which a place is blacked out beyond what was drawn, so that no soft edge of a letter stays."""


class PageEdits(BaseModel):
    """Everything that a person did to the page before it was read."""

    model_config = ConfigDict(frozen=True)

    turned: Literal[0, 90, 180, 270] | None = None
    """Clockwise from how it arrived; None where the page is turned upright by itself."""
    without: tuple[StepCode, ...] = ()
    """Steps of the cleaning that are not taken."""
    crop: Place | None = None
    blacked_out: tuple[Place, ...] = ()


UNTOUCHED = PageEdits()


def place_of(reading: PageReading, box: Box) -> Place:
    """Where a box of the prepared page (points) lies on the page as it arrived."""
    arrived = reading.to_pixels.then(scaling(72 / reading.dpi))
    corners = ((box.x0, box.y0), (box.x1, box.y0), (box.x1, box.y1), (box.x0, box.y1))
    return tuple(arrived.point(*corner) for corner in corners)


def box_of(reading: PageReading, place: Place) -> Box:
    """Where a place of the page as it arrived lies on the prepared page (points): the upright box round it."""
    prepared = reading.to_pixels.then(scaling(72 / reading.dpi)).inverse()
    return around(Box(*point, *point) for point in (prepared.point(*corner) for corner in place))


def blacked_out(page: OpenedPage, places: tuple[Place, ...]) -> OpenedPage:
    """The page with those places black for good: no pixel and no word of its text layer is left of them."""
    if not places:
        return page
    pixels, scale = page.pixels.copy(), page.dpi / 72
    for place in places:
        middle = np.mean(place, axis=0)
        corners = np.asarray(place) + RIM * np.sign(np.asarray(place) - middle)
        cv2.fillConvexPoly(pixels, np.round(corners * scale).astype(np.int32), (0, 0, 0))
    gone = [around(Box(x, y, x, y) for x, y in place) for place in places]
    layer = tuple(word for word in page.layer if not any(word.box.shared_area(box) > 0 for box in gone))
    form = tuple(entry for entry in page.form if not any(entry.box.shared_area(box) > 0 for box in gone))
    return OpenedPage(pixels, page.dpi, layer, form)


def cropped(page: Prepared, dpi: float, crop: Place | None) -> Prepared:
    """The part of the prepared page that was drawn."""
    if crop is None:
        return page
    prepared = page.back.then(scaling(72 / dpi)).inverse()
    corners = np.asarray([prepared.point(*corner) for corner in crop])
    (left, top), (right, bottom) = np.floor(corners.min(axis=0)), np.ceil(corners.max(axis=0))
    return cut_to(page, int(left), int(top), int(right), int(bottom), "cropped")
