"""Measuring over a folder of files with their truth beside them."""

from __future__ import annotations

import json
import re
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import Any

from zestpail.core.document_type import DocumentType
from zestpail.core.evaluation.measure import Measure
from zestpail.core.evaluation.rows import cell_tally
from zestpail.core.extraction.files import extract_files
from zestpail.core.kinds import AnyKind
from zestpail.core.kinds.registered import Registered
from zestpail.core.problems import Unreadable
from zestpail.core.reading.read import Way

TRUTH = ".truth.json"


def evaluate_folder(
    folder: Path, doc_type: DocumentType, way: Way = "ordinary", pool: ProcessPoolExecutor | None = None
) -> Measure:
    """Read every file that has its truth beside it. Raises Unreadable if there is none, or a truth is none."""
    truths = sorted(folder.glob(f"*{TRUTH}"))
    files = [path.with_name(path.name.removesuffix(TRUTH)) for path in truths]
    if not files:
        raise Unreadable(f"In {folder} there is no file with its truth beside it (NAME{TRUTH}).")
    measure, known = Measure(), {field.key: field.kind for field in doc_type.fields}
    for found, truth in zip(extract_files(files, doc_type, way, pool), truths, strict=True):
        details = _truth(truth)
        wanted = {key: _normal(known[key], value) for key, value in details["fields"].items() if key in known}
        values = {key: (value.value, value.confidence) for key, value in found.fields.items()}
        others = {key: value.others for key, value in found.fields.items()}
        measure.add(Path(found.file).name, values, wanted, others)
        for table in doc_type.tables:
            if table.key in details["tables"]:
                rows = found.tables[table.key].rows if table.key in found.tables else []
                plain = [{key: cell.value for key, cell in row.items()} for row in rows]
                measure.add_cells(table.key, cell_tally(plain, details["tables"][table.key]))
    return measure


def _normal(kind: AnyKind, value: str | None) -> str | None:
    """A true value as its kind keeps it: registered numbers have no blanks, points and dashes."""
    return re.sub(r"[\s./·-]", "", value) if value and isinstance(kind, Registered) else value


def _truth(truth: Path) -> dict[str, Any]:
    """The fields and the tables that a truth tells of."""
    try:
        details = json.loads(truth.read_text("utf-8"))
        fields = {str(key): None if value is None else str(value) for key, value in details["fields"].items()}
        tables = {str(key): [dict(row) for row in rows] for key, rows in details.get("tables", {}).items()}
    except (ValueError, KeyError, AttributeError, TypeError) as error:
        raise Unreadable(f"{truth.name} holds no truth: a JSON object with “fields” is wanted.") from error
    return {"fields": fields, "tables": tables}
