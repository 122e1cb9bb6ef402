"""How fast an edit is proven: ``python -m benchmarks.type_edit``. Fifty samples, fifteen fields, one label added.

The server's own time from readings that are kept: the edit itself, and the whole proof anew when its labels change.
"""

from __future__ import annotations

import statistics
import time
from pathlib import Path

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.evaluation.proof import Sample, prove
from zestpail.core.finders import BesideLabel
from zestpail.core.kinds import style_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.page import PageReading
from zestpail.core.reading.read import read_page
from zestpail.core.teaching.field_proposal import propose_field

INVOICES = Path(__file__).parents[1] / "demo" / "files" / "supplier-invoices"
SAMPLES, FIELDS = 50, 15


def main() -> None:
    read = [_read(path) for path in sorted(INVOICES.iterdir()) if path.suffix == ".pdf"]
    documents = [DocumentReading((read[at % len(read)],)) for at in range(SAMPLES)]
    samples = [Sample(at, document, {}) for at, document in enumerate(documents)]
    doc_type = DocumentType(key="bench", name="Bench", fields=_fields(documents[0]))
    began = time.perf_counter()
    prove(doc_type, samples)
    print(f"first proof of {SAMPLES} samples × {len(doc_type.fields)} fields  {time.perf_counter() - began:6.3f} s")
    print(f"one label added, proven on all          {_median(doc_type, samples, _with_label):6.3f} s (median of 7)")
    print(f"another kind for one field              {_median(doc_type, samples, _with_reach):6.3f} s (median of 7)")


def _median(doc_type: DocumentType, samples: list[Sample], edit: object) -> float:
    times = []
    for at in range(7):
        changed = edit(doc_type, at)  # type: ignore[operator]
        began = time.perf_counter()
        prove(changed, samples)
        times.append(time.perf_counter() - began)
    return statistics.median(times)


def _with_label(doc_type: DocumentType, at: int) -> DocumentType:
    return _edited(doc_type, lambda f: f.model_copy(update={"labels": (*f.labels, f"Label {at}")}))


def _with_reach(doc_type: DocumentType, at: int) -> DocumentType:
    return _edited(doc_type, lambda f: f.model_copy(update={"reach_mm": 100.0 + at}))


def _edited(doc_type: DocumentType, change: object) -> DocumentType:
    first, *rest = doc_type.fields
    finder = first.finders[0]
    assert isinstance(finder, BesideLabel)
    changed = first.model_copy(update={"finders": (change(finder),)})  # type: ignore[operator]
    return doc_type.model_copy(update={"fields": (changed, *rest)})


def _fields(document: DocumentReading) -> tuple[FieldRule, ...]:
    """A field for each of the first words that have a label."""
    found: list[FieldRule] = []
    for word in document.pages[0].words:
        if any(c.isdigit() for c in word.text):
            taken = [field.key for field in found]
            rule = propose_field(document, style_of(document.lines), 0, word.box, word.text, taken)
            if isinstance(rule.finders[0], BesideLabel):
                found.append(rule)
    return tuple(found[:FIELDS])


def _read(path: Path) -> PageReading:
    return read_page(open_page(path.read_bytes(), 0)).reading


if __name__ == "__main__":
    main()
