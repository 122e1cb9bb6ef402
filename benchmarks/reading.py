"""How fast it reads: ``./zestpail bench [FILE…]``.

Three figures, each over the demo's own files, or over the supplier invoices given:

- processor seconds a page of the whole engine (open, prepare, read, find, check), with the second reader off and on,
  against Tesseract alone with the same settings on the same straightened pages as they were scanned, with as many
  processes as cores; the three in turn, several rounds in one run, and the best of each counts;
- processor seconds for a born-digital invoice, in one warm process;
- the most memory that one process came to hold.
"""

from __future__ import annotations

import os

os.environ.setdefault("OMP_THREAD_LIMIT", "1")

import resource
import statistics
import sys
import time
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2

from zestpail.core.document_type import load_type
from zestpail.core.extraction.extract import extract
from zestpail.core.extraction.files import extract_file
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.engines import tesseract
from zestpail.core.reading.geometry import scaling
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.preparation.prepare import Prepared, straightened
from zestpail.core.reading.read import read_page

FILES = Path(__file__).parents[1] / "demo" / "files" / "supplier-invoices"
ROUNDS = 2
INVOICE = load_type("supplier-invoice")


def main() -> None:
    given = [Path(name) for name in sys.argv[1:]] or list(FILES.iterdir())
    files = sorted(path for path in given if path.suffix != ".json")
    scans = [path for path in files if not _born_digital(path)]
    cores = os.cpu_count() or 1
    with ProcessPoolExecutor(cores, initializer=_ready) as pool:
        list(pool.map(_ready_once, range(4 * cores)))
        rounds = [[_timed(pool, work, scans) for work in (_engine, _both_readers, _tesseract)] for _ in range(ROUNDS)]
    ours, both, alone = (min(times[at] for times in rounds) for at in range(3))
    pages = sum(count_pages(path.read_bytes()) for path in scans)
    print(f"{cores} processes, {len(scans)} scanned documents, {pages} pages; processor seconds a page")
    print(f"Tesseract alone           {alone / pages:6.2f}")
    print(f"engine, second reader off {ours / pages:6.2f}   as fast as {alone / ours:.2f} of Tesseract alone")
    print(f"engine, second reader on  {both / pages:6.2f}   as fast as {alone / both:.2f} of Tesseract alone")
    times = [_seconds(path) for path in files if _born_digital(path) for _ in range(3)]
    if times:
        print(f"born-digital     {statistics.median(times):6.3f} s a document (median), {max(times):.3f} s at most")
    held = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1e6
    print(f"memory           {held:6.2f} GB at most in one process")


def _timed(pool: ProcessPoolExecutor, work: Callable[[Path], int], files: list[Path]) -> float:
    """Processor seconds of all processes."""
    return sum(pool.map(_processor_time, [work] * len(files), files))


def _processor_time(work: Callable[[Path], int], path: Path) -> float:
    began = time.process_time()
    work(path)
    return time.process_time() - began


def _engine(path: Path) -> int:
    data = path.read_bytes()
    readings = [read_page(open_page(data, index), second=False).reading for index in range(count_pages(data))]
    extract(DocumentReading(tuple(readings)), INVOICE)
    return len(readings)


def _both_readers(path: Path) -> int:
    return len(extract_file(path, INVOICE).pages)


def _tesseract(path: Path) -> int:
    """Tesseract on pages that are ready: only its own time matters, but opening is part of both."""
    data = path.read_bytes()
    for index in range(pages := count_pages(data)):
        page = open_page(data, index)
        tesseract.read_words(straightened(Prepared(page.pixels, scaling(1))).pixels, page.dpi)
    return pages


def _seconds(path: Path) -> float:
    return _processor_time(_engine, path)


def _born_digital(path: Path) -> bool:
    return path.suffix == ".pdf" and bool(open_page(path.read_bytes(), 0).layer)


def _ready() -> None:
    cv2.setNumThreads(1)
    tesseract.warm()


def _ready_once(_: int) -> None:
    time.sleep(0.1)  # long enough that every process takes one


if __name__ == "__main__":
    main()
