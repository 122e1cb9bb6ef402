"""Boxes and transforms. Lengths are points (1/72 inch), origin top-left, y downwards."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple


class Box(NamedTuple):
    """An upright rectangle from (x0, y0), top-left, to (x1, y1), bottom-right."""

    x0: float
    y0: float
    x1: float
    y1: float

    @property
    def width(self) -> float:
        return self.x1 - self.x0

    @property
    def height(self) -> float:
        return self.y1 - self.y0

    @property
    def cx(self) -> float:
        return (self.x0 + self.x1) / 2

    @property
    def cy(self) -> float:
        return (self.y0 + self.y1) / 2

    def grown(self, by: float) -> Box:
        """The box with every side moved outwards by ``by``."""
        return Box(self.x0 - by, self.y0 - by, self.x1 + by, self.y1 + by)

    def shared_area(self, other: Box) -> float:
        """The area that lies in both boxes; 0 where they do not meet."""
        width = min(self.x1, other.x1) - max(self.x0, other.x0)
        height = min(self.y1, other.y1) - max(self.y0, other.y0)
        return max(width, 0.0) * max(height, 0.0)

    def covers_centre_of(self, other: Box) -> bool:
        return self.x0 <= other.cx <= self.x1 and self.y0 <= other.cy <= self.y1

    def side_by_side(self, other: Box) -> float:
        """How much of the lower box's height both share, in [0, 1]: 1 on one line of text."""
        shared = min(self.y1, other.y1) - max(self.y0, other.y0)
        return max(shared, 0.0) / max(min(self.height, other.height), 1e-6)

    def stacked(self, other: Box) -> float:
        """How much of the narrower box's width both share, in [0, 1]: 1 in one column."""
        shared = min(self.x1, other.x1) - max(self.x0, other.x0)
        return max(shared, 0.0) / max(min(self.width, other.width), 1e-6)


def around(boxes: Iterable[Box]) -> Box:
    """The smallest box around all of ``boxes`` (at least one)."""
    x0s, y0s, x1s, y1s = zip(*boxes, strict=True)
    return Box(min(x0s), min(y0s), max(x1s), max(y1s))


class Affine(NamedTuple):
    """x' = a·x + b·y + c and y' = d·x + e·y + f."""

    a: float
    b: float
    c: float
    d: float
    e: float
    f: float

    @property
    def stays(self) -> bool:
        """Whether it leaves everything where it is."""
        return max(abs(one - other) for one, other in zip(self, (1, 0, 0, 0, 1, 0), strict=True)) < 1e-9

    def point(self, x: float, y: float) -> tuple[float, float]:
        return self.a * x + self.b * y + self.c, self.d * x + self.e * y + self.f

    def box(self, box: Box) -> Box:
        """The upright box around the transformed corners."""
        corners = [self.point(x, y) for x in (box.x0, box.x1) for y in (box.y0, box.y1)]
        xs, ys = zip(*corners, strict=True)
        return Box(min(xs), min(ys), max(xs), max(ys))

    def then(self, outer: Affine) -> Affine:
        """First this transform, then ``outer``."""
        return Affine(
            outer.a * self.a + outer.b * self.d,
            outer.a * self.b + outer.b * self.e,
            outer.a * self.c + outer.b * self.f + outer.c,
            outer.d * self.a + outer.e * self.d,
            outer.d * self.b + outer.e * self.e,
            outer.d * self.c + outer.e * self.f + outer.f,
        )

    def inverse(self) -> Affine:
        """The transform back. Raises ZeroDivisionError where there is none."""
        det = self.a * self.e - self.b * self.d
        a, b, d, e = self.e / det, -self.b / det, -self.d / det, self.a / det
        return Affine(a, b, -(a * self.c + b * self.f), d, e, -(d * self.c + e * self.f))


def scaling(factor: float) -> Affine:
    return Affine(factor, 0, 0, 0, factor, 0)
