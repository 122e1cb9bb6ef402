"""Measuring over a folder of files with their truth beside them."""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

from zestpail.core.document_type import DocumentType
from zestpail.core.evaluation.measure import Measure
from zestpail.core.evaluation.rows import cell_tally
from zestpail.core.extraction.files import DocumentRecord, extract_with_each
from zestpail.core.learning.truth import Truth, as_kept, files_with_truth, truth_of
from zestpail.core.reading.read import Way


def evaluate_folder(
    folder: Path, doc_type: DocumentType, way: Way = "ordinary", pool: ProcessPoolExecutor | None = None
) -> Measure:
    """Read every file that has its truth beside it. Raises Unreadable if there is none, or a truth is none."""
    return evaluate_each(folder, (doc_type,), way, pool)[0]


def evaluate_each(
    folder: Path, doc_types: Sequence[DocumentType], way: Way = "ordinary", pool: ProcessPoolExecutor | None = None
) -> list[Measure]:
    """The same for several types on the same files, each of which is read once. Raises Unreadable."""
    files = files_with_truth(folder)
    truths = [truth_of(path) for path in files]
    measures = [Measure() for _ in doc_types]
    for found, truth in zip(extract_with_each(files, doc_types, way, pool), truths, strict=True):
        for measure, doc_type, record in zip(measures, doc_types, found, strict=True):
            _count(measure, doc_type, record, truth)
    return measures


def _count(measure: Measure, doc_type: DocumentType, found: DocumentRecord, truth: Truth) -> None:
    known = {field.key: field.kind for field in doc_type.fields}
    wanted = {key: as_kept(known[key], value) for key, value in truth.fields.items() if key in known}
    values = {key: (value.value, value.confidence) for key, value in found.fields.items()}
    others = {key: value.others for key, value in found.fields.items()}
    measure.add(Path(found.file).name, values, wanted, others)
    for table in doc_type.tables:
        if table.key in truth.tables:
            rows = found.tables[table.key].rows if table.key in found.tables else []
            plain = [{key: cell.value for key, cell in row.items()} for row in rows]
            measure.add_cells(table.key, cell_tally(plain, truth.tables[table.key]))
