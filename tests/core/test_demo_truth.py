"""The demo pile against its truth: the figures are printed, and may not fall."""

from __future__ import annotations

import json
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import pytest

from zestpail.core.document_type import load_type
from zestpail.core.extraction.files import DocumentRecord, extract_files
from zestpail.desk.lanes.first_lane import supplier_invoices

LEAST_RIGHT = 0.97
LETTER = supplier_invoices()
NEEDED = {"seller_name", "invoice_number", "issue_date", "net_total", "tax_total", "grand_total"}


@pytest.fixture(scope="module")
def extracted(demo: Path, reading_pool: ProcessPoolExecutor) -> dict[str, DocumentRecord]:
    files = sorted(path for path in demo.iterdir() if path.suffix != ".json")
    return {
        Path(found.file).name: found for found in extract_files(files, load_type("supplier-invoice"), pool=reading_pool)
    }


def least(key: str) -> float:
    """How sure the demo's lane wants to be of the field."""
    return LETTER.review_below if key in NEEDED else LETTER.review_others_below


def truth_of(demo: Path, name: str) -> dict[str, object]:
    truth: dict[str, object] = json.loads((demo / f"{name}.truth.json").read_text())
    return truth


def test_values(demo: Path, extracted: dict[str, DocumentRecord], capsys: pytest.CaptureFixture[str]) -> None:
    right: Counter[str] = Counter()
    total: Counter[str] = Counter()
    sure_wrong, untouched = [], 0
    for name, found in extracted.items():
        wanted = truth_of(demo, name)["fields"]
        assert isinstance(wanted, dict)
        untouched += all(c.passed for c in found.checks) and all(
            field.confidence >= least(key) or not (field.value or key in NEEDED) for key, field in found.fields.items()
        )
        for key, value in wanted.items():
            field = found.fields[key]
            same = (field.value or "").casefold() == value.casefold()
            total[key] += 1
            right[key] += same
            if not same and field.value and field.confidence >= least(key):
                sure_wrong.append((name, key, field.value))
    with capsys.disabled():
        print("\n" + "\n".join(f"  {key:<16} {right[key]:>3} of {total[key]}" for key in total))
        print(f"  untouched        {untouched:>3} of {len(extracted)}")
    assert right.total() >= LEAST_RIGHT * total.total()
    assert not sure_wrong, "wrong values that would go through untouched"
    assert untouched >= 0.5 * len(extracted)


def test_pages_places_and_checks(demo: Path, extracted: dict[str, DocumentRecord]) -> None:
    for name, found in extracted.items():
        truth = truth_of(demo, name)
        assert len(found.pages) == truth["pages"], name
        sums = [check for check in found.checks if check.name.startswith("sum:")]
        assert sums, name
        assert all(check.passed for check in sums) == truth["adds_up"], name
        for field in found.fields.values():
            assert (field.value is None) == (field.box is None)
    assert extracted["dredgemoor-01.pdf"].fields["grand_total"].page == 2
