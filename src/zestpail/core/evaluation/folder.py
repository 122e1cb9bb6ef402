"""Measuring over a folder of files with their truth beside them."""

from __future__ import annotations

import json
from pathlib import Path

from zestpail.core.document_type import DocumentType
from zestpail.core.evaluation.measure import Measure
from zestpail.core.extraction import extract_files
from zestpail.core.problems import Unreadable
from zestpail.core.reading.read import Way

TRUTH = ".truth.json"


def evaluate_folder(folder: Path, kind: DocumentType, way: Way = "ordinary") -> Measure:
    """Read every file that has its truth beside it. Raises Unreadable if there is none, or a truth is none."""
    truths = sorted(folder.glob(f"*{TRUTH}"))
    files = [path.with_name(path.name.removesuffix(TRUTH)) for path in truths]
    if not files:
        raise Unreadable(f"In {folder} there is no file with its truth beside it (NAME{TRUTH}).")
    measure, known = Measure(), {field.key for field in kind.fields}
    for found, truth in zip(extract_files(files, kind, way), truths, strict=True):
        wanted = {key: value for key, value in _fields(truth).items() if key in known}
        values = {key: (value.value, value.confidence) for key, value in found.fields.items()}
        measure.add(Path(found.file).name, values, wanted)
    return measure


def _fields(truth: Path) -> dict[str, str | None]:
    try:
        fields = json.loads(truth.read_text("utf-8"))["fields"]
        return {str(key): None if value is None else str(value) for key, value in fields.items()}
    except (ValueError, KeyError, AttributeError, TypeError) as error:
        raise Unreadable(f"{truth.name} holds no truth: a JSON object with “fields” is wanted.") from error
