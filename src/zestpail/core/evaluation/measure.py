"""Values against truth: precision, recall and F1 per field, documents entirely right, and what confidence is worth.

A found value is right if it equals the truth after normalising; precision counts the found ones, recall those that are
there to be found. Intervals are Wilson's at 95 % (Wilson 1927), so that nine of ten never looks like 900 of 1000.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from zestpail.core.kinds.equality import same

Z = 1.96
"""Quantile of the normal distribution for intervals of 95 %."""
BINS = (0.0, 0.5, 0.7, 0.8, 0.9, 0.95, 0.98)


@dataclass(frozen=True)
class Miss:
    """A value that is not as it should be."""

    document: str
    key: str
    wanted: str | None
    found: str | None
    confidence: float


@dataclass
class Tally:
    """How often a field was right, wrongly found, or not found."""

    right: int = 0
    found: int = 0
    there: int = 0
    not_chosen: int = 0
    """How many of those missed were among the candidates: the choice was wrong, and not the search."""

    @property
    def precision(self) -> float:
        return self.right / self.found if self.found else 1.0

    @property
    def recall(self) -> float:
        return self.right / self.there if self.there else 1.0

    @property
    def f1(self) -> float:
        both = self.precision + self.recall
        return 2 * self.precision * self.recall / both if both else 0.0


@dataclass
class Measure:
    """What was measured over a set of documents."""

    fields: dict[str, Tally] = field(default_factory=dict)
    cells: dict[str, Tally] = field(default_factory=dict)
    """Of each table the cells of all aligned rows."""
    documents: int = 0
    entirely_right: int = 0
    misses: list[Miss] = field(default_factory=list)
    message: list[tuple[float, bool]] = field(default_factory=list)
    """Of every found value its confidence and whether it is right."""

    @property
    def total(self) -> Tally:
        """All fields together."""
        tallies = self.fields.values()
        return Tally(
            sum(t.right for t in tallies), sum(t.found for t in tallies), sum(t.there for t in tallies),
            sum(t.not_chosen for t in tallies),
        )  # fmt: skip

    def add(
        self,
        document: str,
        found: Mapping[str, tuple[str | None, float]],
        truth: Mapping[str, str | None],
        others: Mapping[str, Sequence[str]] | None = None,
    ) -> None:
        """Take one document into account: found values with their confidence, and the truth of the same keys.

        ``others`` are the values of the candidates that lost.
        """
        missed = len(self.misses)
        for key, wanted in truth.items():
            value, confidence = found.get(key, (None, 0.0))
            tally = self.fields.setdefault(key, Tally())
            right = same(value, wanted)
            tally.right += right and bool(wanted)
            tally.found += bool(value)
            tally.there += bool(wanted)
            lost = (others or {}).get(key, ())
            tally.not_chosen += bool(wanted) and not right and any(same(other, wanted) for other in lost)
            if value:
                self.message.append((confidence, right))
            if not right:
                self.misses.append(Miss(document, key, wanted, value, confidence))
        self.documents += 1
        self.entirely_right += len(self.misses) == missed

    def add_cells(self, table: str, tally: Tally) -> None:
        """Take the cells of one document's table into account."""
        whole = self.cells.setdefault(table, Tally())
        whole.right, whole.found, whole.there = (
            whole.right + tally.right, whole.found + tally.found, whole.there + tally.there,
        )  # fmt: skip

    def sure(self, least: float) -> tuple[int, int]:
        """Of the values said to be at least that sure: how many, and how many of them right."""
        chosen = [right for confidence, right in self.message if confidence >= least]
        return len(chosen), sum(chosen)

    def reliability(self) -> list[tuple[float, float, int, int]]:
        """For each bin of confidence its limits, its values, and how many of them are right."""
        rows = []
        for low, high in zip(BINS, (*BINS[1:], 1.01), strict=True):
            inside = [right for confidence, right in self.message if low <= confidence < high]
            rows.append((low, min(high, 1.0), len(inside), sum(inside)))
        return rows


def wilson(right: int, of: int) -> tuple[float, float]:
    """The interval in which the true share lies with 95 % confidence."""
    if of == 0:
        return 0.0, 1.0
    share, scale = right / of, 1 + Z * Z / of
    middle = (share + Z * Z / (2 * of)) / scale
    half = Z * math.sqrt(share * (1 - share) / of + Z * Z / (4 * of * of)) / scale
    return max(middle - half, 0.0), min(middle + half, 1.0)


def report(measure: Measure, misses: bool = True) -> str:
    """The measure as a person reads it."""
    lines = [f"{'field':<18}{'precision':>10}{'recall':>8}{'F1':>7}  there  not chosen  not found"]
    for key, tally in [*measure.fields.items(), ("all fields", measure.total)]:
        missed = tally.there - tally.right
        lines.append(
            f"{key:<18}{tally.precision:>10.3f}{tally.recall:>8.3f}{tally.f1:>7.3f}{tally.there:>7}"
            f"{tally.not_chosen:>12}{missed - tally.not_chosen:>11}"
        )
    for key, tally in measure.cells.items():
        title = f"cells of {key}"
        lines.append(f"{title:<18}{tally.precision:>10.3f}{tally.recall:>8.3f}{tally.f1:>7.3f}{tally.there:>7}")
    low, high = wilson(measure.entirely_right, measure.documents)
    share = measure.entirely_right / max(measure.documents, 1)
    lines.append(
        f"documents entirely right: {measure.entirely_right} of {measure.documents} ({share:.0%}, {low:.0%}–{high:.0%})"
    )
    lines.append("said to be sure   values  right")
    for low, high, of, right in measure.reliability():
        if of:
            lines.append(f"  {low:.0%}–{high:.0%}".ljust(16) + f"{of:>8}{right / of:>7.0%}")
    if misses and measure.misses:
        lines.append("misses:")
        lines += [_details(miss) for miss in measure.misses]
    return "\n".join(lines)


def _details(miss: Miss) -> str:
    found = f"found {miss.found!r} ({miss.confidence:.0%} sure)" if miss.found else "found nothing"
    return f"  {miss.document}  {miss.key}: should be {miss.wanted!r}, {found}"
