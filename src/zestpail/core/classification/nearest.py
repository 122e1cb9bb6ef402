"""Which sample of each type a document is most like."""

from __future__ import annotations

import numpy as np

from zestpail.core.classification.bag import Bag
from zestpail.core.classification.taught import Taught


def nearest_samples(taught: Taught, bag: Bag) -> dict[str, int]:
    """By type with samples, the place among them of the one that is most like the document."""
    placed = taught.place(bag)
    if placed is None:
        return {}
    alike = taught.table[:, placed.columns] @ placed.values / taught.lengths["all"]
    found: dict[str, tuple[float, int]] = {}
    seen: dict[int, int] = {}
    for row, likeness in zip(taught.rows, np.asarray(alike), strict=True):
        place = seen.get(row.type, 0)
        seen[row.type] = place + 1
        key = taught.keys[row.type]
        if key not in found or likeness > found[key][0]:
            found[key] = (float(likeness), place)
    return {key: place for key, (_, place) in found.items()}
