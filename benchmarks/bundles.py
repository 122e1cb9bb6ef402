"""What a pile of bundles costs beside bare OCR: ``python -m benchmarks.bundles``.

The demo's vessel calls, 90 sides: read (blank sides and sheets too), cut and captured, with as many processes as
cores; against the first reader alone on the sides that are written on, straightened beforehand.
"""

from __future__ import annotations

import os

os.environ.setdefault("OMP_THREAD_LIMIT", "1")

import time
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from pathlib import Path

import cv2

from zestpail.core.document_type import load_type
from zestpail.core.extraction.extract import extract
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.engines import tesseract
from zestpail.core.reading.geometry import scaling
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.preparation.prepare import Prepared, straightened
from zestpail.core.reading.read import ReadPage, look_again, read_page
from zestpail.core.separation import AtPrintedSheet, Separation, split_stack

PILE = Path("demo/files/vessel-calls/vessel-calls-01.tif")
TYPES = Path("demo/types")
RULES = Separation(bundles=AtPrintedSheet(), documents=AtPrintedSheet(), blank_pages="left_out")
ROUNDS = 3


@cache
def _data() -> bytes:
    return PILE.read_bytes()


def main() -> None:
    sides, cores = range(count_pages(_data())), os.cpu_count() or 1
    with ProcessPoolExecutor(cores, initializer=cv2.setNumThreads, initargs=(1,)) as pool:
        written = [at for at, page in enumerate(pool.map(_read, sides)) if not page.reading.blank]  # warms each process
        whole, bare = [], []
        for _ in range(ROUNDS):
            began = time.perf_counter()
            read = list(pool.map(_read, sides))
            stack = split_stack([page.reading for page in read], RULES)
            made = [(d.type, tuple(read[at] for at in d.pages)) for d in stack.documents]
            list(pool.map(_extracted, made))
            whole.append(time.perf_counter() - began)
            began = time.perf_counter()
            list(pool.map(_bare, written))
            bare.append(time.perf_counter() - began)
    print(f"{cores} processes, {len(sides)} sides, {len(written)} of them written on, {len(made)} documents")
    print(f"whole way      {min(whole):6.1f} s, {60 * len(sides) / min(whole):6.1f} sides/min, "
          f"{60 * len(written) / min(whole):6.1f} written sides/min")  # fmt: skip
    print(f"bare OCR       {min(bare):6.1f} s, {60 * len(written) / min(bare):6.1f} written sides/min, "
          f"so the whole way has {min(bare) / min(whole):.2f} of its speed")  # fmt: skip


def _read(at: int) -> ReadPage:
    return read_page(open_page(_data(), at))


def _extracted(document: tuple[str, tuple[ReadPage, ...]]) -> int:
    """Values found, and looked at by the other reader."""
    doc_type, pages = load_type(str(TYPES / f"{document[0] or 'crew-list'}.json")), document[1]
    reading = DocumentReading(tuple(page.reading for page in pages))
    return len(extract(reading, doc_type, lambda at, box: look_again(pages[at], box)).values)


def _bare(at: int) -> int:
    page = open_page(_data(), at)
    return len(tesseract.read_words(straightened(Prepared(page.pixels, scaling(1))).pixels, page.dpi))


if __name__ == "__main__":
    main()
