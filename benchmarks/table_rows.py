"""How fast long tables are: ``python -m benchmarks.table_rows``. A statement of over 20 pages and 600 rows.

Finding its rows from readings that are kept, and what the review desk takes to answer a cell that was typed into: the
change, the checks, and the drawer drawn anew, on a private PostgreSQL.
"""

from __future__ import annotations

import re
import statistics
import time
from pathlib import Path

from benchmarks.private import ORIGIN, private_store, signed_in
from demo.board import supplier_statements
from zestpail.core.document_type import load_type
from zestpail.core.finders import SearchContext
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.read import read_page
from zestpail.core.tables.find import find_table
from zestpail.desk.documents import context
from zestpail.desk.intake import arrivals
from zestpail.desk.people.people import SignedIn
from zestpail.desk.pipeline import extract, reading
from zestpail.store import Store
from zestpail.store.states import DocumentState
from zestpail.store.tables import Document, TableRow

FILES = Path(__file__).parents[1] / "demo" / "files" / "supplier-statements"
COPIES = 5
"""Of the statement's first four pages, and its last: 21 pages."""
ROWS, EDITS = 600, 15


def main() -> None:
    data = (FILES / "statement-tarnwick-01.tif").read_bytes()
    pages = [read_page(open_page(data, at)).reading for at in range(count_pages(data))]
    long, doc_type = (*pages[:4] * COPIES, pages[-1]), load_type("supplier-statement")
    times, rows = [], 0
    for _ in range(5):
        context = SearchContext(DocumentReading(long), doc_type.labels, doc_type.landmarks)
        began = time.perf_counter()
        rows = len(find_table(context, doc_type.tables[0], doc_type.checks).rows)
        times.append(time.perf_counter() - began)
    print(f"{len(long)} pages, {rows} rows from readings  {statistics.median(times):6.3f} s (median of 5)")
    with private_store() as (store, where, person):
        _edit_rows(store, where, person)


def _edit_rows(store: Store, folder: Path, person: SignedIn) -> None:
    """A cell typed into, again and again, in a document of many rows."""
    context.set_up_lane(store, "supplier-statements", "Supplier statements", supplier_statements())
    name = "statement-tarnwick-05.tif"
    arrivals.arrive(store, "supplier-statements", name, (FILES / name).read_bytes(), person.id, None)
    reading.open_file(store, 1)
    reading.read_page(store, 1)
    extract.extract_document(store, 1)
    with store.transaction() as session:
        document = session.get_one(Document, 1)
        document.state = DocumentState.REVIEW
        first = session.get_one(TableRow, 1).model_dump(exclude={"id", "position"})
        session.add_all(TableRow(**first, position=at) for at in range(100, 100 + ROWS))
    client = signed_in(store, folder)
    shown = client.get("/review/1").text
    times = []
    for at in range(EDITS):
        version = re.search(r'data-version="(\d+)"', shown)
        assert version, shown[:400]
        what = {"version": version[1], "how": "enter", "table": "entries", "text": f"Text {at}"}
        began = time.perf_counter()
        answer = client.post("/review/1/rows/3/cells/text", data=what, headers=ORIGIN)
        times.append(time.perf_counter() - began)
        shown = answer.text
        assert f"Text {at}" in shown
    print(f"a cell typed into, of {ROWS} rows     {statistics.median(times):6.3f} s (median of {EDITS})")


if __name__ == "__main__":
    main()
