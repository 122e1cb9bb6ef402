"""Zest Pail in a program of one's own: read files, take their values out, write them; no server, no database.

What stands here is what ``import zestpail`` offers and keeps (semantic versioning, see ``CHANGELOG.md``); all else of
the package may change. Everything that cannot be read raises :class:`Unreadable` with a sentence for a person, but
for :func:`extract_all`, where it is told with the file that it befell.
"""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path
from typing import Literal

from zestpail.core.document_type import DocumentType, load_type
from zestpail.core.extraction.files import DocumentRecord, extract_data, extract_files, read_pages
from zestpail.core.problems import Unreadable
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.page import PageReading, Word
from zestpail.core.reading.read import Way
from zestpail.core.reference.held import list_key, lists_in
from zestpail.core.writing.value_files import values_csv, values_json, values_json_lines, values_xml

File = str | os.PathLike[str] | bytes
"""A path, or the bytes of a file."""
Form = Literal["xml", "json", "json_lines", "csv"]

__all__ = [
    "DocumentReading",
    "DocumentRecord",
    "DocumentType",
    "PageReading",
    "Unreadable",
    "Word",
    "extract",
    "extract_all",
    "load_type",
    "read",
    "written",
]


def read(file: File, pages: Iterable[int] = (), *, way: Way = "ordinary") -> DocumentReading:
    """Read a PDF or picture: its pages with their words and where they stand (points), and what else is on them.

    ``pages`` are numbers from 1; none means all. Raises Unreadable.
    """
    os.environ.setdefault("OMP_THREAD_LIMIT", "1")
    data, name = _content(file)
    return DocumentReading(tuple(page.reading for page in read_pages(name, data, way, tuple(pages))))


def extract(
    file: File,
    by: str | os.PathLike[str] | DocumentType,
    pages: Iterable[int] = (),
    *,
    lists: Sequence[str | os.PathLike[str]] = (),
    way: Way = "ordinary",
) -> DocumentRecord:
    """Take the values out of a PDF or picture.

    ``by`` is a document type, the file of one, or the key of a starter such as ``"supplier-invoice"``; ``pages`` are
    numbers from 1, none means all; ``lists`` are files of reference lists (CSV, XLSX or JSON). Raises Unreadable.
    """
    os.environ.setdefault("OMP_THREAD_LIMIT", "1")
    data, name = _content(file)
    paths = tuple(map(Path, lists))
    source, names = lists_in(paths), tuple(map(list_key, paths))
    return extract_data(name, data, _type(by), way, source=source, besides=names, wanted=tuple(pages))


def extract_all(
    files: Iterable[str | os.PathLike[str]],
    by: str | os.PathLike[str] | DocumentType,
    *,
    lists: Sequence[str | os.PathLike[str]] = (),
    way: Way = "ordinary",
) -> Iterator[DocumentRecord]:
    """The same for many files, on all cores, one record each in the order given.

    A file that cannot be read yields a record whose ``problems`` say why. As processes are started for it, a program
    that calls this does so under ``if __name__ == "__main__":``.
    """
    os.environ.setdefault("OMP_THREAD_LIMIT", "1")
    yield from extract_files(list(map(Path, files)), _type(by), way, lists=list(map(Path, lists)))


def written(record: DocumentRecord, by: str | os.PathLike[str] | DocumentType, form: Form = "xml") -> bytes:
    """The values of a record as a file: XML (by ``zestpail/core/writing/values.xsd``), JSON, JSON Lines or CSV."""
    values = record.as_values(_type(by))
    return {"xml": values_xml, "json": values_json, "json_lines": values_json_lines, "csv": values_csv}[form](values)


def _type(by: str | os.PathLike[str] | DocumentType) -> DocumentType:
    return by if isinstance(by, DocumentType) else load_type(os.fspath(by))


def _content(file: File) -> tuple[bytes, str]:
    if isinstance(file, bytes):
        return file, "file"
    path = Path(file)
    try:
        return path.read_bytes(), path.name
    except FileNotFoundError:
        raise Unreadable("There is no such file.") from None
    except OSError as problem:
        raise Unreadable(f"The file cannot be opened: {problem.strerror}.") from problem
