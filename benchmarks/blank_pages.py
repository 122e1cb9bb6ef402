"""How well blank pages are told: ``python -m benchmarks.blank_pages``.

Blank backs with dust, punch holes, a dark lid, grain, a coffee ring and the front showing through; and pages with
hardly anything on them, which must all be kept. Made from the demo's pages and a seed.
"""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import cv2
import numpy as np

from demo import scanning as scan
from zestpail.core.reading.opening import OpenedPage, count_pages, open_page
from zestpail.core.reading.preparation.blank_page import is_blank

FILES = Path(__file__).parents[1] / "demo" / "files"
DPI, A4 = 200, (2339, 1654)
WORDS = ("7", "nil", "- 2 -", "see over", "Kopie", "V. Tamm", "ok", "continued")
BLANKS, WRITTEN = 200, 200


def main() -> None:
    blanks = [is_blank(page, DPI) for page in blank_pages(BLANKS)]
    written = [is_blank(page, DPI) for page in hardly_written(WRITTEN)]
    scans = [is_blank(page.pixels, page.dpi) for page in _demo_pages()]
    print(f"blank pages found               {sum(blanks)} of {len(blanks)}")
    print(f"hardly written pages dropped    {sum(written)} of {len(written)}")
    print(f"pages of the demo dropped       {sum(scans)} of {len(scans)}")


def blank_pages(count: int, seed: int = 1) -> Iterator[scan.Page]:
    """Pages on which nothing is written, each damaged in another way."""
    fronts = [page.pixels for page in list(_demo_pages())[:12]]
    for number in range(count):
        chance = np.random.default_rng((seed, number))
        front = cv2.resize(fronts[number % len(fronts)], (A4[1], A4[0]), interpolation=cv2.INTER_AREA)
        page = scan.back_of(front, chance) if number % 3 else np.full(A4, 248, np.uint8)
        yield _scanned(page, number, chance)


def hardly_written(count: int, seed: int = 2) -> Iterator[scan.Page]:
    """Pages with one short word, printed or by hand, small or pale, somewhere; damaged like the blank ones."""
    for number in range(count):
        chance = np.random.default_rng((seed, number))
        page = np.full(A4, 248, np.uint8)
        at = int(chance.uniform(0.1, 0.8) * A4[1]), int(chance.uniform(0.06, 0.94) * A4[0])
        size, ink = float(chance.uniform(0.75, 2.0)), int(chance.integers(20, 120))
        font = cv2.FONT_HERSHEY_SCRIPT_SIMPLEX if number % 4 == 0 else cv2.FONT_HERSHEY_SIMPLEX
        cv2.putText(page, WORDS[number % len(WORDS)], at, font, size, (ink,) * 3, 2, cv2.LINE_AA)
        yield _scanned(page, number, chance)


def _scanned(page: scan.Page, number: int, chance: scan.Chance) -> scan.Page:
    damages: tuple[scan.Damage, ...] = (
        (scan.soft,), (scan.dusty, scan.soft), (scan.punched, scan.soft), (scan.lid, scan.soft), (scan.noisy,),
        (scan.punched, scan.dusty, scan.lid), (scan.dusty, scan.bilevel), (scan.fax,),
        (scan.punched, scan.soft, scan.skew(1.3)), (scan.faint,),
    )[number % 10]  # fmt: skip
    for damage in damages:
        page = damage(page, chance)
    return page


def _demo_pages() -> Iterator[OpenedPage]:
    for file in sorted(FILES.glob("*/*")):
        scans = file.is_file() and file.suffix not in (".json", ".eml")
        if scans and file.parent.name not in ("vessel-calls", "binders"):
            data = file.read_bytes()
            yield from (open_page(data, at) for at in range(count_pages(data)))


if __name__ == "__main__":
    main()
