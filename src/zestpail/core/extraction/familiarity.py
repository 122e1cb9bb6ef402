"""Whether a paper is like those that are known: on one of which little is sure, nothing should pass unseen."""

from __future__ import annotations

from collections.abc import Collection, Mapping

UNSURE = 0.7
"""A value less sure than this speaks for a layout that is not known."""
MOSTLY = 0.5
"""The share of the values that must be there which are unsure, or missing, on an unknown layout."""
LEAST = 3
"""Values that must be there at least: of fewer one cannot tell a layout from a slip."""


def unlike_known(confidences: Mapping[str, float], needed: Collection[str]) -> bool:
    """Whether most of what must be there is unsure; ``confidences`` are 0 where nothing was found."""
    unsure = [key for key in needed if confidences.get(key, 0.0) < UNSURE]
    return len(needed) >= LEAST and len(unsure) >= max(MOSTLY * len(needed), 2)
