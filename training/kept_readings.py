"""Readings of papers to learn from, kept in a folder: ``python -m training.kept_readings PAPERS KEPT``.

PAPERS has a folder for each kind of paper and in it one for each maker of such papers; of each PDF the first pages are
read and kept as KEPT/KIND/MAKER/NAME/0001.reading. What learns (piles, belonging) starts from there, again and again.
"""

from __future__ import annotations

import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from zestpail.core.classification.page_sketch import PageSketch, sketch_of
from zestpail.core.problems import Unreadable
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.page import PageReading, unpacked
from zestpail.core.reading.read import read_page

MOST_PAGES = 6
Sketched = tuple[str, tuple[PageSketch, ...]]
"""Who made a paper, and its written pages."""


@dataclass(frozen=True)
class KeptPaper:
    """One paper: its kind, who made it, its written pages, and whether the last of them is its last page."""

    kind: str
    maker: str
    name: str
    pages: tuple[PageReading, ...]
    whole: bool


def keep(papers: Path, kept: Path) -> None:
    """Read every PDF below ``papers`` that is not kept yet."""
    jobs = [(path, kept / path.relative_to(papers).with_suffix("")) for path in sorted(papers.rglob("*.pdf"))]
    with ProcessPoolExecutor() as pool:
        list(pool.map(_keep, *zip(*[job for job in jobs if not job[1].exists()], strict=True)))


def _keep(path: Path, target: Path) -> None:
    data = path.read_bytes()
    try:
        count = count_pages(data)
        read = [read_page(open_page(data, at)).reading for at in range(min(count, MOST_PAGES))]
    except Unreadable as problem:
        print(f"{path}: {problem}")
        return
    write(target, read, count <= MOST_PAGES)


def write(target: Path, pages: Sequence[PageReading], whole: bool) -> None:
    """Keep the readings of one paper."""
    target.mkdir(parents=True)
    for at, page in enumerate(pages, 1):
        last = ".last" if whole and at == len(pages) else ""
        (target / f"{at:04}{last}.reading").write_bytes(page.packed())


def kept_papers(folder: Path) -> list[KeptPaper]:
    """All papers that are kept there, in the order of their names."""
    names = sorted({path.parent for path in folder.rglob("*.reading")})
    with ProcessPoolExecutor() as pool:
        return [paper for paper in pool.map(_kept, names, [folder] * len(names), chunksize=8) if paper.pages]


def sketched_papers(folder: Path) -> dict[str, list[Sketched]]:
    """By kind the papers that are kept there, as classification sees them."""
    papers: dict[str, list[Sketched]] = {}
    for paper in kept_papers(folder):
        sketches = tuple(sketch for page in paper.pages if not (sketch := sketch_of(page)).empty)
        if sketches:
            papers.setdefault(paper.kind, []).append((paper.maker, sketches))
    return papers


def _kept(place: Path, folder: Path) -> KeptPaper:
    kind, maker, *_ = place.relative_to(folder).parts
    files = sorted(place.glob("*.reading"))
    pages = [unpacked(file.read_bytes()) for file in files]
    written = tuple(page for page in pages if not page.blank)
    return KeptPaper(kind, maker, str(place.relative_to(folder)), written, ".last" in files[-1].name)


if __name__ == "__main__":
    keep(Path(sys.argv[1]), Path(sys.argv[2]))
