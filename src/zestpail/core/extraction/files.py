"""Files in, values out: the whole engine in one call per file, spread over all cores."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from contextlib import nullcontext
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from zestpail.core.document_type import DocumentType
from zestpail.core.extraction.choose import RunnerUp
from zestpail.core.extraction.extract import extract
from zestpail.core.extraction.extracted_value import Extraction
from zestpail.core.problems import Unreadable, why_unread
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.page import PageReading
from zestpail.core.reading.processes import reading_processes, shown_path
from zestpail.core.reading.read import ReadPage, Way, look_again, read_page
from zestpail.core.reference.held import NO_LISTS, list_key, lists_in
from zestpail.core.reference.list_match import ListMatch
from zestpail.core.reference.reference_list import ListSource
from zestpail.core.tables import Row
from zestpail.core.writing.mail_pages import readable
from zestpail.core.writing.value_files import DocumentValues, TableValues

PAGES_AT_HAND = 16
"""So many pages of a file keep their pictures as they are; those of more are packed meanwhile."""


class FieldRecord(BaseModel):
    """One value as ``extract --json`` prints it; pages count from 1, boxes are points."""

    value: str | None
    raw: str
    confidence: float
    page: int | None
    box: Box | None
    finder: str
    others: list[str] = []
    """What else it might be: the values of the candidates that lost, likeliest first."""


class CellRecord(BaseModel):
    """One cell of a row as ``extract --json`` prints it."""

    value: str | None
    raw: str
    confidence: float
    page: int | None
    box: Box | None


class TableRecord(BaseModel):
    """A table's rows, each by column."""

    rows: list[dict[str, CellRecord]] = []


class CheckRecord(BaseModel):
    name: str
    passed: bool
    message: str


class DocumentRecord(BaseModel):
    """One document as ``extract --json`` prints it."""

    file: str
    pages: list[int] = []
    type: str
    revision: int
    fields: dict[str, FieldRecord] = {}
    tables: dict[str, TableRecord] = {}
    checks: list[CheckRecord] = []
    entries: dict[str, ListMatch] = {}
    """By reference list, the entry that the document speaks of."""
    second_best: RunnerUp | None = None
    """The combination of values that nearly won, and why it lost."""
    problems: list[str] = []

    def value(self, key: str) -> str | None:
        """The value of a field, normalised; None where none was found. Raises KeyError for a field that it has not."""
        return self.fields[key].value

    def rows(self, table: str) -> list[dict[str, str | None]]:
        """The rows of a table, each by column."""
        return [{key: cell.value for key, cell in row.items()} for row in self.tables[table].rows]

    def as_values(self, doc_type: DocumentType) -> DocumentValues:
        """The record as it is written to a file of values; ``doc_type`` is what it was read by."""
        return DocumentValues(
            reference=Path(self.file).name,
            doc_type=self.type,
            revision=self.revision,
            fields=[(field.key, field.name) for field in doc_type.fields],
            values={key: found.value for key, found in self.fields.items()},
            tables=[
                TableValues(table.key, table.name, [(c.key, c.name) for c in table.columns], self.rows(table.key))
                for table in doc_type.tables
                if table.key in self.tables
            ],
            given={},
        )

    def as_text(self) -> str:
        """The document for a person's eyes."""
        lines = [f"{self.file}: {len(self.pages)} pages" if self.pages else self.file, *self.problems]
        for key, found in self.fields.items():
            lines.append(f"  {key:<16} {found.value:<36} {found.confidence:>4.0%}" if found.value else f"  {key:<16} –")
        lines += [f"  {key:<16} {len(table.rows)} rows" for key, table in self.tables.items()]
        lines += [
            f"  {key:<16} {one.label or 'no entry'}: {one.likely[0].why if one.likely else 'nothing like it'}"
            for key, one in self.entries.items()
        ]
        lines += [f"  fails: {check.message}" for check in self.checks if not check.passed]
        if self.second_best:
            instead = ", ".join(f"{key} {value or 'empty'}" for key, value in self.second_best.instead.items())
            lines.append(f"  second best: {instead} – but {self.second_best.why}")
        return "\n".join(lines)


def extract_files(
    paths: Sequence[Path],
    doc_type: DocumentType,
    way: Way = "ordinary",
    pool: ProcessPoolExecutor | None = None,
    lists: Sequence[Path] = (),
) -> Iterator[DocumentRecord]:
    """One result per file, in the order given. A file that cannot be read yields its problem.

    A file that takes its process down is read once more in a process of its own, so that it takes nothing else along.
    Each document is looked up in the reference lists that are given as files.
    Whoever reads several lots makes one ``pool`` for all of them with :func:`reading_processes`.
    """
    for found in extract_with_each(paths, (doc_type,), way, pool, tuple(lists)):
        yield found[0]


def extract_with_each(
    paths: Sequence[Path],
    doc_types: Sequence[DocumentType],
    way: Way = "ordinary",
    pool: ProcessPoolExecutor | None = None,
    lists: tuple[Path, ...] = (),
) -> Iterator[tuple[DocumentRecord, ...]]:
    """The same by several types: each file is read once, and yields a result for each of them."""
    waiting = list(paths)
    while waiting:
        with nullcontext(pool) if pool else reading_processes() as at_work:
            begun = [(path, at_work.submit(_extracted, path, doc_types, way, lists)) for path in waiting]
            for path, result in begun:
                waiting.pop(0)
                try:
                    yield result.result()
                except BrokenProcessPool:
                    pool = None
                    yield _alone(path, doc_types, way, lists)
                    break


def _alone(
    path: Path, doc_types: Sequence[DocumentType], way: Way, lists: tuple[Path, ...]
) -> tuple[DocumentRecord, ...]:
    with reading_processes(1) as pool:
        try:
            return pool.submit(_extracted, path, doc_types, way, lists).result()
        except BrokenProcessPool as problem:
            return _refused(path, doc_types, problem)


def extract_file(path: Path, doc_type: DocumentType, way: Way = "ordinary") -> DocumentRecord:
    """One file in this process, its values read by both readers."""
    return _extracted(path, (doc_type,), way)[0]


def extract_data(
    name: str, data: bytes, doc_type: DocumentType, way: Way = "ordinary", *, source: ListSource = NO_LISTS,
    besides: tuple[str, ...] = (), wanted: Sequence[int] = (),
) -> DocumentRecord:  # fmt: skip
    """The content of one file in this process; ``wanted`` are pages from 1, none means all. Raises Unreadable.

    ``source`` has the reference lists that the type asks; the document is looked up in those named ``besides`` too.
    """
    return _found_in(name, data, (doc_type,), way, (source, besides), wanted)[0]


def _extracted(
    path: Path, doc_types: Sequence[DocumentType], way: Way, lists: tuple[Path, ...] = ()
) -> tuple[DocumentRecord, ...]:
    try:
        held = lists_in(lists), tuple(map(list_key, lists))
        found = _found_in(path.name, path.read_bytes(), doc_types, way, held)
        return tuple(one.model_copy(update={"file": shown_path(path)}) for one in found)
    except Exception as problem:
        return _refused(path, doc_types, problem)


def _found_in(
    name: str, data: bytes, doc_types: Sequence[DocumentType], way: Way, lists: tuple[ListSource, tuple[str, ...]],
    wanted: Sequence[int] = (),
) -> tuple[DocumentRecord, ...]:  # fmt: skip
    pages = read_pages(name, data, way, wanted)
    document = DocumentReading(tuple(page.reading for page in pages))

    def look(page: int, box: Box) -> str | None:
        return look_again(pages[page].whole(), box)

    found = (extract(document, one, look, *lists) for one in doc_types)
    numbers = list(dict.fromkeys(wanted)) or list(range(1, len(pages) + 1))
    return tuple(_record(name, numbers, one, of) for one, of in zip(found, doc_types, strict=True))


def read_pages(name: str, data: bytes, way: Way = "ordinary", wanted: Sequence[int] = ()) -> list[SlimPage]:
    """The pages of a file, read; ``wanted`` are their numbers from 1, none means all. Raises Unreadable."""
    data = readable(name, data)
    many = count_pages(data)
    lacking = next((number for number in wanted if not 1 <= number <= many), None)
    if lacking is not None:
        raise Unreadable(f"There is no page {lacking}: the file has {many} {'page' if many == 1 else 'pages'}.")
    numbers = list(dict.fromkeys(wanted)) or range(1, many + 1)
    return [_slim(read_page(open_page(data, number - 1), way), at < PAGES_AT_HAND) for at, number in enumerate(numbers)]


@dataclass(frozen=True)
class SlimPage:
    """A page with its picture packed: a long file's pictures are more than memory holds."""

    reading: PageReading
    pixels: NDArray[np.uint8]
    packed: bool

    def whole(self) -> ReadPage:
        pixels = cv2.imdecode(self.pixels, cv2.IMREAD_UNCHANGED) if self.packed else self.pixels
        return ReadPage(self.reading, np.asarray(pixels, np.uint8))


def _slim(page: ReadPage, at_hand: bool) -> SlimPage:
    if at_hand:
        return SlimPage(page.reading, page.pixels, packed=False)
    _, packed = cv2.imencode(".png", page.pixels, [cv2.IMWRITE_PNG_COMPRESSION, 1])
    return SlimPage(page.reading, np.asarray(packed, np.uint8), packed=True)


def _refused(path: Path, doc_types: Sequence[DocumentType], problem: Exception) -> tuple[DocumentRecord, ...]:
    why = [why_unread(problem)]
    return tuple(
        DocumentRecord(file=shown_path(path), type=one.key, revision=one.revision, problems=why) for one in doc_types
    )


def _record(name: str, pages: list[int], found: Extraction, doc_type: DocumentType) -> DocumentRecord:
    return DocumentRecord(
        file=name,
        pages=pages,
        type=doc_type.key,
        revision=doc_type.revision,
        fields=_fields(found, pages),
        tables={table.key: TableRecord(rows=[_cells(row, pages) for row in table.rows]) for table in found.tables},
        second_best=found.runner_up,
        checks=[CheckRecord(name=v.check, passed=v.passed, message=v.message) for v in found.verdicts],
        entries=found.entries,
    )


def _cells(row: Row, pages: list[int]) -> dict[str, CellRecord]:
    return {
        key: CellRecord(
            value=cell.value,
            raw=cell.raw,
            confidence=cell.confidence,
            page=None if cell.page is None else pages[cell.page],
            box=None if cell.box is None else Box(*(round(v, 1) for v in cell.box)),
        )
        for key, cell in row.cells.items()
    }


def _fields(found: Extraction, pages: list[int]) -> dict[str, FieldRecord]:
    return {
        value.key: FieldRecord(
            value=value.value,
            raw=value.raw,
            confidence=value.confidence,
            page=None if value.page is None else pages[value.page],
            box=None if value.box is None else Box(*(round(v, 1) for v in value.box)),
            finder=value.finder,
            others=[v for v in dict.fromkeys(c.value for c in value.candidates) if v != value.value],
        )
        for value in found.values
    }
