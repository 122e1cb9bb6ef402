"""Tables as files: CSV with any delimiter and encoding, XLSX, and JSON, to headings and rows of text."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from itertools import islice
from typing import Any

from charset_normalizer import from_bytes
from openpyxl import load_workbook
from openpyxl.utils.exceptions import InvalidFileException

from zestpail.core.problems import Unreadable

MOST_ROWS = 300_000
MOST_COLUMNS = 200
LONGEST_CELL = 2_000
"""Characters; what is longer is cut."""
MOST_BYTES = 300_000_000
MOST_UNPACKED = 1_500_000_000
"""Bytes of a workbook when it is unpacked."""
_SAMPLE = 200_000
"""Bytes by which the encoding is told."""
_ENCODINGS = {
    "cp1252": "Windows-1252", "cp1250": "Windows-1250", "cp1257": "Windows-1257", "iso8859_2": "ISO 8859-2",
    "iso8859_15": "ISO 8859-15", "cp850": "DOS 850", "mac_roman": "Mac Roman",
}  # fmt: skip
_MARKS = {
    b"\xef\xbb\xbf": ("utf-8-sig", "UTF-8"), b"\xff\xfe": ("utf-16", "UTF-16"), b"\xfe\xff": ("utf-16", "UTF-16"),
}  # fmt: skip
ABBREVIATED = ("vat", "iban", "bic", "id", "url")
_DELIMITERS = ",;\t|"
_SEEN = 50
"""Lines by which the delimiter is told."""


@dataclass(frozen=True)
class TableFile:
    """A table as a file holds it."""

    headings: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    """Each as long as the headings."""
    told: str = ""
    """How it was read: its encoding and delimiter, in a few words."""


def table_in(content: bytes, name: str = "") -> TableFile:
    """The table that a file holds; its first row has the headings. Raises Unreadable."""
    if len(content) > MOST_BYTES:
        raise Unreadable(
            f"The file is too large: {len(content) // 1_000_000} MB, and {MOST_BYTES // 1_000_000} are read."
        )
    if content[:2] == b"PK":
        return _shaped(_of_workbook(content), "XLSX")
    if content[:8] == b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1":
        raise Unreadable("The file is a workbook of the old kind (XLS). Save it as XLSX or CSV.")
    text, encoding = _decoded(content)
    if text.lstrip()[:1] in ("[", "{"):
        return _shaped(_of_json(text), "JSON")
    if "\0" in text or _binary(content):
        raise Unreadable(f"{name or 'The file'} is no table: neither CSV nor XLSX nor JSON.")
    delimiter = _delimiter_of(text)
    named = {",": "commas", ";": "semicolons", "\t": "tabs", "|": "strokes"}[delimiter]
    return _shaped(_of_csv(text, delimiter), f"{encoding}, parted by {named}")


def _shaped(rows: Iterable[Sequence[str]], told: str) -> TableFile:
    """Headings and rows of one length, without empty rows."""
    filled = (row for row in rows if any(cell.strip() for cell in row))
    headings = [heading.strip() for heading in next(iter(filled), ())]
    while headings and not headings[-1]:
        headings.pop()
    if not headings:
        raise Unreadable("The file is empty.")
    if len(headings) > MOST_COLUMNS:
        raise Unreadable(f"The table has {len(headings)} columns; at most {MOST_COLUMNS} are taken.")
    width = len(headings)
    kept = tuple(
        tuple(_cell(row[at]) if at < len(row) else "" for at in range(width)) for row in islice(filled, MOST_ROWS + 1)
    )
    if len(kept) > MOST_ROWS:
        raise Unreadable(
            f"The table has more than {MOST_ROWS:,} rows, and no more are taken. Leave out what is not needed."
        )
    if not kept:
        raise Unreadable("The table has headings and no rows.")
    return TableFile(_unlike(headings), kept, told)


def _unlike(headings: Sequence[str]) -> tuple[str, ...]:
    """The headings, with a number behind one that came before, and a name for one that is empty."""
    seen: dict[str, int] = {}
    made = []
    for at, heading in enumerate(headings, 1):
        text = heading[:80] or f"Column {at}"
        seen[text] = seen.get(text, 0) + 1
        made.append(text if seen[text] == 1 else f"{text} ({seen[text]})")
    return tuple(made)


def _cell(text: str) -> str:
    return text.replace("\0", "").strip()[:LONGEST_CELL]


def _decoded(content: bytes) -> tuple[str, str]:
    """The text and its encoding: told by its mark, UTF-8 where it fits, else the likeliest of the usual ones."""
    for mark, encoding, told in (
        (b"\xef\xbb\xbf", "utf-8-sig", "UTF-8"),
        (b"\xff\xfe", "utf-16", "UTF-16"),
        (b"\xfe\xff", "utf-16", "UTF-16"),
    ):
        if content.startswith(mark):
            try:
                return content.decode(encoding), told
            except UnicodeDecodeError as problem:
                raise Unreadable(f"The file says that it is {told}, and is not.") from problem
    try:
        return content.decode("utf-8"), "UTF-8"
    except UnicodeDecodeError:
        likely = from_bytes(content[:_SAMPLE], cp_isolation=list(_ENCODINGS)).best()
        encoding = likely.encoding if likely else "cp1252"
        if content.decode(encoding, "replace") == content.decode("cp1252", "replace"):
            encoding = "cp1252"
        return content.decode(encoding, "replace"), _ENCODINGS.get(encoding, encoding)


def _binary(content: bytes) -> bool:
    head = content[:4000]
    return sum(byte < 9 or 13 < byte < 32 for byte in head) > len(head) / 100


def _delimiter_of(text: str) -> str:
    """The delimiter that parts the first lines into most columns, the same number in nearly all."""
    head = "".join(islice(io.StringIO(text), _SEEN))

    def even(delimiter: str) -> tuple[float, int]:
        widths = [len(row) for row in csv.reader(io.StringIO(head), delimiter=delimiter) if row]
        usual = max(set(widths), key=lambda width: (widths.count(width), width)) if widths else 1
        return (widths.count(usual) / len(widths) if usual > 1 else 0.0, usual)

    try:
        return max(_DELIMITERS, key=even)
    except csv.Error:
        return ","


def _of_csv(text: str, delimiter: str) -> Iterator[list[str]]:
    try:
        yield from csv.reader(io.StringIO(text, newline=""), delimiter=delimiter)
    except csv.Error as problem:
        raise Unreadable(f"The CSV is damaged: {problem}.") from problem


def _of_workbook(content: bytes) -> Iterator[list[str]]:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as packed:
            if sum(one.file_size for one in packed.infolist()) > MOST_UNPACKED:
                raise Unreadable("The workbook is too large when it is unpacked.")
        book = load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        sheet = book.worksheets[0] if book.worksheets else None
        for row in sheet.iter_rows(values_only=True) if sheet else ():
            yield [_text(value) for value in row]
    except (InvalidFileException, zipfile.BadZipFile, KeyError, ValueError, OSError, SyntaxError) as problem:
        raise Unreadable("The workbook is damaged, or is none.") from problem


def _text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == value.min.time() else value.isoformat(sep=" ")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    return str(value)


def _of_json(text: str) -> Iterator[list[str]]:
    """Records as programs send them: a list of objects, alone or under one name."""
    try:
        told: Any = json.loads(text)
    except (ValueError, RecursionError) as problem:
        raise Unreadable("The JSON is damaged.") from problem
    if isinstance(told, dict):
        told = next((value for value in told.values() if isinstance(value, list)), None)
    if not isinstance(told, list) or not all(isinstance(record, dict) for record in told):
        raise Unreadable("The JSON is no list of records.")
    told = [row for record in told for row in _flat(record)]
    names = list(dict.fromkeys(str(name) for record in told for name in record))
    yield [_heading(name) for name in names]
    for record in told:
        yield [_plain(record.get(name)) for name in names]


def _flat(record: dict[str, Any]) -> list[dict[str, Any]]:
    """A record that has one list of records in it, as an order has lines: a row for each of these, with the rest."""
    inner = [(name, value) for name, value in record.items() if isinstance(value, list) and value]
    if len(inner) != 1 or not all(isinstance(one, dict) for one in inner[0][1]):
        return [record]
    name, lines = inner[0]
    rest = {key: value for key, value in record.items() if key != name}
    return [{**rest, **{f"{name.rstrip('s')}_{key}": value for key, value in line.items()}} for line in lines]


def _heading(name: str) -> str:
    """A name that a program gives as a person writes it: days_to_pay becomes Days to pay."""
    plain = name.replace("_", " ").strip()
    if plain in ABBREVIATED:
        return plain.upper()
    return plain[:1].upper() + plain[1:] if plain.islower() else plain


def _plain(value: object) -> str:
    return json.dumps(value, ensure_ascii=False) if isinstance(value, dict | list) else _text(value)
