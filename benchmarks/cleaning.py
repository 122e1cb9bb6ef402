"""What cleaning does to what is read: values right on the demo's scans, as they came and with each way of cleaning.

``python -m benchmarks.cleaning`` prints right and wanted values by setting, and what was done to how many pages.
"""

from __future__ import annotations

import json
from collections import Counter
from pathlib import Path

from zestpail.core.document_type import DocumentType, load_type
from zestpail.core.extraction.extract import extract
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.preparation.cleaning import USUAL, Cleaning
from zestpail.core.reading.read import read_page

FILES = Path("demo/files")
KINDS = (("supplier-invoices", "supplier-invoice"), ("fuel-delivery-notes", "delivery-note"))
WAYS = {
    "as they came": USUAL,
    "borders cleared, holes filled, specks removed": Cleaning(borders="cleared", holes="filled", specks="removed"),
    "borders cut off": Cleaning(borders="cut_off"),
    "black_and_white": Cleaning(colours="black_and_white"),
}


def main() -> None:
    for name, cleaning in WAYS.items():
        right = wanted = 0
        done: Counter[str] = Counter()
        for folder, key in KINDS:
            doc_type = load_type(key)
            for truth in sorted((FILES / folder).glob("*.truth.json")):
                data = truth.with_name(truth.name.removesuffix(".truth.json")).read_bytes()
                pages = [read_page(open_page(data, at), cleaning=cleaning) for at in range(count_pages(data))]
                done.update(step.step for page in pages for step in page.reading.preparation)
                fields = json.loads(truth.read_text())["fields"]
                hits = _right(DocumentReading(tuple(page.reading for page in pages)), doc_type, fields)
                right, wanted = right + hits, wanted + sum(field.key in fields for field in doc_type.fields)
        print(f"{name:48}{right:5} of {wanted} values right; {dict(done)}", flush=True)


def _right(reading: DocumentReading, doc_type: DocumentType, fields: dict[str, str | None]) -> int:
    found = {value.key: value.value for value in extract(reading, doc_type).values}
    return sum(found.get(field.key) == fields[field.key] for field in doc_type.fields if field.key in fields)


if __name__ == "__main__":
    main()
