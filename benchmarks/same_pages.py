"""Whether second scans of a paper are told from papers that look like it: ``python -m benchmarks.same_pages FOLDER``.

All papers of the folder of which several scans are there (``invoice.pdf``, ``invoice_g4_300.tif`` …), and worse ones
made here, are held against each other; then papers in which two, four and ten words had their figures shuffled.
"""

from __future__ import annotations

import io
import itertools
import random
import re
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from demo import scanning
from zestpail.core.reading.features.page_print import NEAR, apart, page_print
from zestpail.core.reading.geometry import scaling
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.read import ReadPage, read_page
from zestpail.core.reading.same_page import figures, figures_in_common, same_page

ANOTHER_SCAN = re.compile(r"_(g4_300|gray_200|rot\d+_150)$")
WORSE = {
    "worn": (scanning.skew(0.9), scanning.soft, scanning.noisy),
    "faint": (scanning.skew(-0.7), scanning.faint),
    "fax": (scanning.skew(0.5), scanning.fax),
}


class Scan(NamedTuple):
    paper: str
    way: str
    page: ReadPage


def scans(path: Path) -> list[Scan]:
    """The file's first page as it is, and where it is no scan, three bad scans of it."""
    whole = ANOTHER_SCAN.sub("", path.stem)
    first = read_page(open_page(path.read_bytes(), 0))
    seen = [Scan(whole, "as it came", first)]
    if first.reading.source != "ocr":
        seen += [Scan(whole, way, read_page(open_page(_worse(first.pixels, way), 0))) for way in WORSE]
    return seen


def _worse(pixels: NDArray[np.uint8], way: str) -> bytes:
    chance, out = np.random.default_rng(7), io.BytesIO()
    for damage in WORSE[way]:
        pixels = damage(pixels, chance)
    Image.fromarray(pixels).save(out, "PNG", dpi=(200, 200))
    return out.getvalue()


def shuffled(page: ReadPage, many: int, chance: random.Random) -> ReadPage | None:
    """The page with the characters of so many words that are mostly figures shuffled."""
    words = [w for w in page.reading.words if sum(c.isdigit() for c in w.text) > 3 and len(set(w.text)) > 2]
    if len(words) < many:
        return None
    pixels, scale = page.pixels.copy(), page.pixels.shape[1] / page.reading.width
    for word in chance.sample(words, many):
        x0, y0, x1, y1 = (round(edge) for edge in scaling(scale).box(word.box))
        wide, order = (x1 - x0) // len(word.text), list(range(len(word.text)))
        chance.shuffle(order)
        before = pixels[y0:y1, x0:x1].copy()
        for at, of in enumerate(order):
            pixels[y0:y1, x0 + at * wide : x0 + (at + 1) * wide] = before[:, of * wide : (of + 1) * wide]
    return ReadPage(page.reading, pixels)


def told(name: str, same: list[bool]) -> None:
    print(f"{name:34} {len(same):5}  taken for one paper {sum(same) / max(1, len(same)):.3f}", flush=True)


def altered(all_scans: list[Scan], many: int) -> Iterator[bool]:
    """Whether papers with so many words altered, read anew, pass for a scan of what they were."""
    chance = random.Random(4)  # noqa: S311 - a draw that can be repeated
    for scan in (one for one in all_scans if one.way == "as it came" and one.page.reading.source != "ocr"):
        other = shuffled(scan.page, many, chance)
        if other is None:
            continue
        out = io.BytesIO()
        Image.fromarray(other.pixels).save(out, "PNG", dpi=(200, 200))
        again = read_page(open_page(out.getvalue(), 0))
        yield from (same_page(again, one.page) for one in all_scans if one.paper == scan.paper)


def main() -> None:
    paths = sorted(p for folder in sys.argv[1:] for p in Path(folder).iterdir() if p.suffix in (".pdf", ".tif", ".jpg"))
    with ProcessPoolExecutor(2) as pool:
        all_scans = [scan for found in pool.map(scans, paths) for scan in found]
    prints = [page_print(scan.page.pixels) for scan in all_scans]
    words = [figures(word.text for word in scan.page.reading.words) for scan in all_scans]
    outcomes: dict[str, list[bool]] = {
        "same, as they came": [],
        "same, one of them worse": [],
        "others, alike from afar": [],
    }
    bits, shares, spent = [], [], 0.0
    for one, other in itertools.combinations(range(len(all_scans)), 2):
        a, b = all_scans[one], all_scans[other]
        far, common = apart(prints[one], prints[other]), figures_in_common(words[one], words[other])
        same = a.paper == b.paper
        if same:
            bits.append(far)
            shares.append(common)
        if far > NEAR and not same:
            continue
        name = "others, alike from afar" if not same else "same, as they came"
        name = "same, one of them worse" if same and {a.way, b.way} != {"as it came"} else name
        begun = time.process_time()
        outcomes[name].append(far <= NEAR and same_page(a.page, b.page))
        spent += time.process_time() - begun
        if name == "same, as they came" and not outcomes[name][-1]:
            print(f"missed: {a.paper} ({a.page.reading.source}, {b.page.reading.source}), {far} bits apart")
    for name, same_ones in outcomes.items():
        told(name, same_ones)
    for many in (2, 4, 10):
        told(f"{many} words altered", list(altered(all_scans, many)))
    print(f"prints of one paper differ in {max(bits)} bits at most, 0.99 of them in {np.quantile(bits, 0.99):.0f}")
    print(f"figures in common, 0.02 quantile: {np.quantile(shares, 0.02):.2f}")
    print(f"{1000 * spent / sum(map(len, outcomes.values())):.0f} ms for two pages")


if __name__ == "__main__":
    main()
