"""What a single file may ask of us."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Limits:
    """Larger files, of more pages or pixels, are refused with a sentence."""

    max_bytes: int = 200_000_000
    max_pages: int = 2_000
    """Also of all files of a package together."""
    max_side: int = 20_000
    max_pixels: int = 150_000_000


USUAL_LIMITS = Limits()
