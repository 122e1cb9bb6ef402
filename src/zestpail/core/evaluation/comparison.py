"""Two measures of the same documents: what the second mended and broke."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from pathlib import Path

from zestpail.core.document_type import DocumentType
from zestpail.core.evaluation.measure import Measure, Miss, Tally, wilson
from zestpail.core.learning.truth import files_with_truth


@dataclass(frozen=True)
class Compared:
    """What is right in the one and was wrong in the other, and the other way round."""

    mended: tuple[Miss, ...]
    broken: tuple[Miss, ...]


def compared(before: Measure, after: Measure) -> Compared:
    """The values that were missed before and are not any more, and those that are missed now."""
    was, now = ({(miss.document, miss.key): miss for miss in one.misses} for one in (before, after))
    return Compared(
        tuple(miss for place, miss in was.items() if place not in now),
        tuple(miss for place, miss in now.items() if place not in was),
    )


def comparison_report(before: Measure, after: Measure, names: tuple[str, str]) -> str:
    """Both measures side by side, as a person reads them."""
    lines = [f"{'field':<18}{names[0]:>32}{names[1]:>32}"]
    for key in [*after.fields, ""]:
        both = [measure.fields.get(key, Tally()) if key else measure.total for measure in (before, after)]
        lines.append(f"{key or 'all fields':<18}" + "".join(f"{_details(tally):>32}" for tally in both))
    lines.append(f"{'entirely right':<18}" + "".join(f"{_documents(measure):>32}" for measure in (before, after)))
    turned = compared(before, after)
    lines.append(f"mended: {len(turned.mended)}, broken: {len(turned.broken)}")
    lines += [
        f"  broken: {miss.document}  {miss.key}: should be {miss.wanted!r}, found {miss.found!r}"
        for miss in turned.broken
    ]
    return "\n".join(lines)


def known_files(folder: Path, doc_type: DocumentType) -> list[str]:
    """Names of the files to measure with that the type was taught with: it knows them."""
    known = {layout.digest for layout in doc_type.learned.layouts} if doc_type.learned else set()
    return [path.name for path in files_with_truth(folder) if hashlib.sha256(path.read_bytes()).hexdigest() in known]


def _details(tally: Tally) -> str:
    low, high = wilson(tally.right, tally.there)
    return f"{tally.f1:.3f} ({tally.right} of {tally.there}, {low:.2f}–{high:.2f})"


def _documents(measure: Measure) -> str:
    low, high = wilson(measure.entirely_right, measure.documents)
    return f"{measure.entirely_right} of {measure.documents} ({low:.2f}–{high:.2f})"
