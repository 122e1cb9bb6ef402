"""What learning is worth and what it costs: ``python -m benchmarks.learning``.

Invoices of twenty sellers that nobody wrote rules for: one of each teaches, three others of each test, born-digital,
as grey scans and as poor ones. Then how long 50 samples take to learn, and recognising one layout among 500.
"""

from __future__ import annotations

import tempfile
import time
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from tests.browser.conftest import open_browser
from tests.strangers.make import another, draw, write
from tests.strangers.templates import ASIDE, KNOWN
from zestpail.core.classification.folder import read_files
from zestpail.core.document_type import DocumentType, load_type
from zestpail.core.evaluation.folder import evaluate_each
from zestpail.core.evaluation.measure import Measure, wilson
from zestpail.core.learning.labelled import Label, LabelledDocument
from zestpail.core.learning.layouts.recognise import Layouts
from zestpail.core.learning.layouts.remember import remember
from zestpail.core.learning.truth import as_kept, truth_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.teaching.folder import teach_folder
from zestpail.core.teaching.learn import learn

FORMS = ("born", "grey", "poor")
LATER = 3
"""Further invoices of each seller."""
KNOWN_LAYOUTS = 500


def main() -> None:
    with tempfile.TemporaryDirectory() as made:
        folder = Path(made)
        _make(folder)
        invoice = load_type("supplier-invoice")
        taught = teach_folder(folder / "first" / "born", invoice).lesson.doc_type
        bare = _without_rules(taught)
        for form in FORMS:
            rules, both, alone = evaluate_each(folder / "later" / form, (invoice, taught, bare))
            said = "; ".join(
                f"{name} {_share(measure)}"
                for name, measure in (("rules alone", rules), ("taught", both), ("taught alone", alone))
            )
            print(f"{form}: {said}")
        _time(folder, invoice)


def _make(folder: Path) -> None:
    browser = open_browser()
    try:
        for template in (*KNOWN, *ASIDE):
            first = replace(draw(template, 0), credit=False)
            write(first, folder / "first", f"{template.name}-0", browser, ("born",))
            for at in range(1, LATER + 1):
                write(another(first, at), folder / "later", f"{template.name}-{at}", browser, FORMS)
    finally:
        browser.quit()


def _without_rules(doc_type: DocumentType) -> DocumentType:
    """The type with what was learned and nothing else."""
    fields = tuple(
        field.model_copy(update={"finders": tuple(f for f in field.finders if f.code() == "learned"), "judged": False})
        for field in doc_type.fields
    )
    return doc_type.model_copy(update={"fields": fields, "checks": (), "tables": ()})


def _share(measure: Measure) -> str:
    total = measure.total
    low, high = wilson(total.right, total.there)
    sure, right = measure.sure(0.95)
    return f"{total.right} of {total.there} ({low:.3f}–{high:.3f}), of {sure} at least 95 % sure {right} right"


def _time(folder: Path, invoice: DocumentType) -> None:
    samples = _samples(folder / "later" / "born", invoice)[:50]
    began = time.process_time()
    learn(invoice, samples)
    print(f"{len(samples)} samples learned in {time.process_time() - began:.1f} s of one core")
    layouts = [remember(sample.name, sample.document, {}) for sample in samples]
    many = Layouts([layouts[at % len(layouts)].model_copy(update={"sample": str(at)}) for at in range(KNOWN_LAYOUTS)])
    many.recognised(samples[0].document)
    spent = sorted(_spent(many, sample.document) for sample in samples)
    print(f"one of {KNOWN_LAYOUTS} layouts recognised in {1000 * spent[len(spent) // 2]:.0f} ms, "
          f"95 of 100 in {1000 * spent[int(0.95 * len(spent))]:.0f} ms")  # fmt: skip


def _spent(layouts: Layouts, document: DocumentReading) -> float:
    began = time.process_time()
    layouts.recognised(document)
    return time.process_time() - began


def _samples(folder: Path, invoice: DocumentType) -> Sequence[LabelledDocument]:
    files = sorted(path for path in folder.iterdir() if path.suffix != ".json")
    kinds = {field.key: field.kind for field in invoice.fields}
    return [
        LabelledDocument(
            read.path.name, DocumentReading(read.pages),
            {key: Label(as_kept(kinds[key], value)) for key, value in truth_of(read.path).fields.items()},
        )
        for read in read_files(files)
    ]  # fmt: skip


if __name__ == "__main__":
    main()
