"""How fast long tables are: ``python -m bench.table_rows``. A statement of over 20 pages and 600 rows.

Finding its rows from readings that are kept, and what the review desk takes to answer a cell that was typed into: the
change, the checks, and the drawer drawn anew, on a private PostgreSQL.
"""

from __future__ import annotations

import gc
import re
import statistics
import tempfile
import time
from pathlib import Path

from fastapi.testclient import TestClient

from zestpail.core.document_type import load_type
from zestpail.core.finders import Ground
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.read import read_page
from zestpail.core.tables.find import found_table
from zestpail.desk import arrivals, lanes, people, reading
from zestpail.desk.lane_letter import supplier_statements
from zestpail.desk.standing import Desk
from zestpail.running import cluster
from zestpail.store import Store, open_store
from zestpail.store.migrate import migrate
from zestpail.store.tables import Document, DocumentState, TableRow
from zestpail.web.app import create_app

FILES = Path(__file__).parents[1] / "demo" / "files" / "supplier-statements"
COPIES = 5
"""Of the statement's first four pages, and its last: 21 pages."""
ROWS, EDITS = 600, 15


def main() -> None:
    data = (FILES / "statement-tarnwick-01.tif").read_bytes()
    pages = [read_page(open_page(data, at)).reading for at in range(count_pages(data))]
    long, kind = (*pages[:4] * COPIES, pages[-1]), load_type("supplier-statement")
    times, rows = [], 0
    for _ in range(5):
        ground = Ground(DocumentReading(long), kind.labels, kind.landmarks)
        began = time.perf_counter()
        rows = len(found_table(ground, kind.tables[0], kind.checks).rows)
        times.append(time.perf_counter() - began)
    print(f"{len(long)} pages, {rows} rows from readings  {statistics.median(times):6.3f} s (median of 5)")
    with tempfile.TemporaryDirectory() as folder:
        running = cluster.start(Path(folder), fast=True)
        try:
            migrate(running.url)
            store = open_store(running.url, f"{folder}/blobs")
            _edit_rows(store, Path(folder))
            store.engine.dispose()
        finally:
            cluster.stop(running)


def _edit_rows(store: Store, folder: Path) -> None:
    """A cell typed into, again and again, in a document of many rows."""
    lanes.set_up_lane(store, "supplier-statements", "Supplier statements", supplier_statements())
    people.add_person(store, "bench", "Bench", "quillon")
    person = people.sign_in(store, "bench", "quillon")
    assert person
    name = "statement-tarnwick-05.tif"
    arrivals.arrive(store, "supplier-statements", name, (FILES / name).read_bytes(), person.id, None)
    reading.open_file(store, 1)
    reading.read_page(store, 1)
    reading.capture_document(store, 1)
    with store.transaction() as session:
        document = session.get_one(Document, 1)
        document.state = DocumentState.REVIEW
        first = session.get_one(TableRow, 1).model_dump(exclude={"id", "position"})
        session.add_all(TableRow(**first, position=at) for at in range(100, 100 + ROWS))
    gc.freeze()  # as the server does
    client = TestClient(create_app(Desk(store, folder), "bench"), base_url="http://127.0.0.1")
    token = {"login": "bench", "password": "quillon"}
    client.post("/sign-in", data=token, headers={"origin": "http://127.0.0.1"})
    shown = client.get("/review/1").text
    times = []
    for at in range(EDITS):
        version = re.search(r'data-version="(\d+)"', shown)
        assert version, shown[:400]
        what = {"version": version[1], "how": "enter", "table": "entries", "text": f"Text {at}"}
        began = time.perf_counter()
        answer = client.post("/review/1/rows/3/cells/text", data=what, headers={"origin": "http://127.0.0.1"})
        times.append(time.perf_counter() - began)
        shown = answer.text
        assert f"Text {at}" in shown
    print(f"a cell typed into, of {ROWS} rows     {statistics.median(times):6.3f} s (median of {EDITS})")


if __name__ == "__main__":
    main()
