"""Files in, values out: the whole engine in one call per file, spread over all cores."""

from __future__ import annotations

import multiprocessing
import os
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from contextlib import contextmanager
from pathlib import Path

from pydantic import BaseModel

from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.choose import RunnerUp
from zestpail.core.extraction.extract import Capture, capture
from zestpail.core.problems import Unreadable
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.read import Way, look_again, read_page
from zestpail.core.tables import Row


class ExtractedField(BaseModel):
    """One value as ``extract --json`` prints it; pages count from 1, boxes are points."""

    value: str | None
    raw: str
    confidence: float
    page: int | None
    box: Box | None
    finder: str


class ExtractedCell(BaseModel):
    """One cell of a row as ``extract --json`` prints it."""

    value: str | None
    raw: str
    confidence: float
    page: int | None
    box: Box | None


class ExtractedTable(BaseModel):
    """A table's rows, each by column."""

    rows: list[dict[str, ExtractedCell]] = []


class ExtractedCheck(BaseModel):
    name: str
    passed: bool
    message: str


class Extracted(BaseModel):
    """One document as ``extract --json`` prints it."""

    file: str
    pages: list[int] = []
    type: str
    revision: int
    fields: dict[str, ExtractedField] = {}
    tables: dict[str, ExtractedTable] = {}
    checks: list[ExtractedCheck] = []
    second_best: RunnerUp | None = None
    """The combination of values that nearly won, and why it lost."""
    problems: list[str] = []

    def as_text(self) -> str:
        """The document for a person's eyes."""
        lines = [f"{self.file}: {len(self.pages)} pages" if self.pages else self.file, *self.problems]
        for key, found in self.fields.items():
            lines.append(f"  {key:<16} {found.value:<36} {found.confidence:>4.0%}" if found.value else f"  {key:<16} –")
        lines += [f"  {key:<16} {len(table.rows)} rows" for key, table in self.tables.items()]
        lines += [f"  fails: {check.message}" for check in self.checks if not check.passed]
        if self.second_best:
            instead = ", ".join(f"{key} {value or 'empty'}" for key, value in self.second_best.instead.items())
            lines.append(f"  second best: {instead} – but {self.second_best.why}")
        return "\n".join(lines)


def extract_files(paths: Sequence[Path], kind: DocumentType, way: Way = "ordinary") -> Iterator[Extracted]:
    """One result per file, in the order given. A file that cannot be read yields its problem.

    A file that takes its process down is read once more in a process of its own, so that it takes nothing else along.
    """
    waiting = list(paths)
    while waiting:
        with _pool(max(1, min(os.cpu_count() or 1, 8))) as pool:
            begun = [(path, pool.submit(extract_file, path, kind, way)) for path in waiting]
            for path, result in begun:
                waiting.pop(0)
                try:
                    yield result.result()
                except BrokenProcessPool:
                    yield _alone(path, kind, way)
                    break


@contextmanager
def _pool(workers: int) -> Iterator[ProcessPoolExecutor]:
    # Not forked from here: whoever calls may have threads and engines, which do not survive a fork.
    server = multiprocessing.get_context("forkserver")
    server.set_forkserver_preload(["zestpail.core.extraction.files"])
    pool = ProcessPoolExecutor(workers, mp_context=server)
    try:
        yield pool
    finally:
        pool.shutdown(cancel_futures=True)


def _alone(path: Path, kind: DocumentType, way: Way) -> Extracted:
    with _pool(1) as pool:
        try:
            return pool.submit(extract_file, path, kind, way).result()
        except BrokenProcessPool as problem:
            return _refused(path, kind, problem)


def extract_file(path: Path, kind: DocumentType, way: Way = "ordinary") -> Extracted:
    """One file in this process, its values read by both readers."""
    try:
        data = path.read_bytes()
        pages = [read_page(open_page(data, index), way) for index in range(count_pages(data))]

        def look(page: int, box: Box) -> str | None:
            return look_again(pages[page], box)

        found = capture(DocumentReading(tuple(page.reading for page in pages)), kind, look)
        return _extracted(path, len(pages), found, kind)
    except Exception as problem:
        return _refused(path, kind, problem)


def _refused(path: Path, kind: DocumentType, problem: Exception) -> Extracted:
    if isinstance(problem, FileNotFoundError):
        said = "There is no such file."
    elif isinstance(problem, OSError):
        said = f"The file cannot be opened: {(problem.strerror or 'unknown reason').lower()}."
    elif isinstance(problem, Unreadable):
        said = str(problem)
    else:
        said = "Reading this file broke off; it may be damaged in a way that is not understood."
    return Extracted(file=_shown(path), type=kind.key, revision=kind.revision, problems=[said])


def _shown(path: Path) -> str:
    """The path as text; bytes that are no UTF-8 become question marks."""
    return str(path).encode("utf-8", "replace").decode()


def _extracted(path: Path, pages: int, found: Capture, kind: DocumentType) -> Extracted:
    return Extracted(
        file=_shown(path),
        pages=list(range(1, pages + 1)),
        type=kind.key,
        revision=kind.revision,
        fields=_fields(found),
        tables={table.key: ExtractedTable(rows=[_cells(row) for row in table.rows]) for table in found.tables},
        second_best=found.runner_up,
        checks=[ExtractedCheck(name=v.name, passed=v.passed, message=v.message) for v in found.verdicts],
    )


def _cells(row: Row) -> dict[str, ExtractedCell]:
    return {
        key: ExtractedCell(
            value=cell.value,
            raw=cell.raw,
            confidence=cell.confidence,
            page=None if cell.page is None else cell.page + 1,
            box=None if cell.box is None else Box(*(round(v, 1) for v in cell.box)),
        )
        for key, cell in row.cells.items()
    }


def _fields(found: Capture) -> dict[str, ExtractedField]:
    return {
        value.key: ExtractedField(
            value=value.value,
            raw=value.raw,
            confidence=value.confidence,
            page=None if value.page is None else value.page + 1,
            box=None if value.box is None else Box(*(round(v, 1) for v in value.box)),
            finder=value.finder,
        )
        for value in found.values
    }
