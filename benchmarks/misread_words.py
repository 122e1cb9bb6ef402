"""How many words of a scan are found again: ``python -m benchmarks.misread_words FOLDER``.

The folder has born-digital PDFs, ``NAME.pdf``, and scans of them, ``NAME_HOW.*``: what stands on the paper is known
from the one and looked for in the other, as the archive does it. Told are, for each way of scanning, how many words and
numbers of four characters and more are there as they are, how many are found although they were misread, how many were
read as one with others or split, and how many were not read at all.
"""

from __future__ import annotations

import re
import sys
from collections import Counter, defaultdict
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

from zestpail.core.extraction.files import read_pages
from zestpail.core.reading.misread_words import LEAST_LETTERS, likest, stubs
from zestpail.core.reading.search_words import placed

MOST_PAGES, MOST_ALIKE = 2, 8
TOLD = ("as it is", "misread and found", "within another", "split in two", "not read")
SCANS = re.compile(r"(.+?)_((?:gray|g4|rot)\w*)\.(?:pdf|tif|jpg)")


def words_on(path: Path) -> set[str]:
    """The words of the first pages, as the archive knows them."""
    pages = read_pages(path.name, path.read_bytes())[:MOST_PAGES]
    text = " ".join(word.text for page in pages for word in page.reading.words)
    return {word for word, _ in placed(text)}


def became(word: str, read: set[str], others: set[str]) -> str:
    """What became of a word of the paper; ``others`` are what was read and stands nowhere on it."""
    if word in read:
        return TOLD[0]
    mine = set(stubs(word))
    if likest(word, (one for one in others if mine & set(stubs(one))), MOST_ALIKE):
        return TOLD[1]
    if any(word in one for one in read):
        return TOLD[2]
    if any(word[:at] in read and word[at:] in read for at in range(2, len(word) - 1)):
        return TOLD[3]
    return TOLD[4]


def main(folder: Path) -> None:
    scans = {path: match for path in sorted(folder.iterdir()) if (match := SCANS.fullmatch(path.name))}
    born = {path.stem: path for path in folder.glob("*.pdf") if path not in scans}
    several = [path for path, match in scans.items() if match[1] in born]
    with ProcessPoolExecutor() as pool:
        words = dict(zip([*born.values(), *several], pool.map(words_on, [*born.values(), *several]), strict=True))
    told: defaultdict[str, Counter[str]] = defaultdict(Counter)
    for path in several:
        there, read = words[born[scans[path][1]]], words[path]
        how = partial(became, read=read, others=read - there)
        told[scans[path][2].rstrip("0123456789_")].update(how(word) for word in there if len(word) >= LEAST_LETTERS)
    for way, count in sorted(told.items()):
        print(f"{way}: {count.total()} words,", ", ".join(f"{what} {count[what]}" for what in TOLD))


if __name__ == "__main__":
    main(Path(sys.argv[1]))
