"""A document's values as a file of their own: JSON, JSON Lines, XML (by ``values.xsd``) and CSV (RFC 4180)."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from xml.etree import ElementTree as ET

from zestpail.core.writing.page_texts import legal
from zestpail.core.writing.spreadsheets import harmless

XML = "urn:zestpail:values:1"
FORMAT = "zestpail values 1"


Named = tuple[str, str]
"""Key and name of a field or column."""


@dataclass(frozen=True)
class TableValues:
    """A table with its rows, by the columns' keys."""

    key: str
    name: str
    columns: Sequence[Named]
    rows: Sequence[Mapping[str, str | None]]


@dataclass(frozen=True)
class DocumentValues:
    """The values of one document, as they are delivered; ``given`` is what sheets, barcodes and e-mails said of it."""

    reference: str
    doc_type: str
    revision: int
    fields: Sequence[Named]
    values: Mapping[str, str | None]
    tables: Sequence[TableValues]
    given: Mapping[str, str]
    terms: Mapping[str, str | None] = field(default_factory=dict)
    """What of an electronic invoice the values are, as they are kept (see ``exchange.of_values``)."""


def values_json(document: DocumentValues) -> bytes:
    """One object: fields by key, and the rows of each table."""
    told = {
        "format": FORMAT, "document": document.reference, "type": document.doc_type, "revision": document.revision,
        "fields": {key: document.values.get(key) for key, _ in document.fields}, "given": dict(document.given),
        "tables": {
            table.key: [{key: row.get(key) for key, _ in table.columns} for row in table.rows]
            for table in document.tables
        },
    }  # fmt: skip
    return json.dumps(told, ensure_ascii=False, indent=2).encode("utf-8", "replace") + b"\n"


def values_json_lines(document: DocumentValues) -> bytes:
    """An object a line (JSON Lines): the document with its fields, then each row of each table with its number."""
    own = {"document": document.reference, "type": document.doc_type, "revision": document.revision}
    lines: list[dict[str, object]] = [
        {**own, "fields": {key: document.values.get(key) for key, _ in document.fields}, "given": dict(document.given)}
    ]
    for table in document.tables:
        for number, row in enumerate(table.rows, start=1):
            cells = {key: row.get(key) for key, _ in table.columns}
            lines.append({"document": document.reference, "table": table.key, "row": number, "cells": cells})
    return b"".join(json.dumps(line, ensure_ascii=False).encode("utf-8", "replace") + b"\n" for line in lines)


def values_xml(document: DocumentValues) -> bytes:
    """The same; a value that is not there has no element."""
    told = {"reference": document.reference, "type": document.doc_type, "revision": str(document.revision)}
    root = ET.Element("document", {"xmlns": XML, **told})
    for key, name in document.fields:
        _value(root, "field", key, name, document.values.get(key))
    for key, value in document.given.items():
        _value(root, "given", key, "", value)
    for table in document.tables:
        there = ET.SubElement(root, "table", key=table.key, name=legal(table.name))
        for row in table.rows:
            line = ET.SubElement(there, "row")
            for key, name in table.columns:
                _value(line, "cell", key, name, row.get(key))
    ET.indent(root)
    return b'<?xml version="1.0" encoding="UTF-8"?>\n' + bytes(ET.tostring(root, "utf-8")) + b"\n"


def values_csv(document: DocumentValues) -> bytes:
    """A line for each row of each table, with the document's values on each; one line where it has no rows."""
    several = len(document.tables) > 1
    places = [(table.key, key) for table in document.tables for key, _ in table.columns]
    names = [
        f"{table.name}: {name}" if several else name for table in document.tables for _, name in table.columns
    ]  # fmt: skip
    ahead = [document.reference, *(document.values.get(key) or "" for key, _ in document.fields)]
    lines = [
        [*ahead, *((row.get(column) or "" if key == table.key else "") for key, column in places)]
        for table in document.tables for row in table.rows
    ]  # fmt: skip
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(map(harmless, ["Document", *(name for _, name in document.fields), *names]))
    writer.writerows([list(map(harmless, line)) for line in lines or [[*ahead, *[""] * len(names)]]])
    return out.getvalue().encode("utf-8", "replace")


def _value(above: ET.Element, kind: str, key: str, name: str, value: str | None) -> None:
    if value:
        told = {"key": legal(key), "name": legal(name)} if name else {"key": legal(key)}
        ET.SubElement(above, kind, told).text = legal(value)
