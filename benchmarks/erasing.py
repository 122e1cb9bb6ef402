"""How long erasing takes in a large archive: ``python -m benchmarks.erasing [DOCUMENTS]``, in a database of its own.

The archive of :mod:`benchmarks.archive`, with a delivery, a plan and entries of the trail for each document. Told are
milliseconds a document by the clock, its files included; 300 are erased.
"""

from __future__ import annotations

import hashlib
import json
import shutil
import sys
import tempfile
from datetime import UTC, datetime
from pathlib import Path
from time import perf_counter

import psycopg

from benchmarks.archive import copied, fill
from zestpail.desk.archive import keeping
from zestpail.desk.archive.entering import enter_due
from zestpail.desk.documents.context import set_up_lane
from zestpail.desk.lanes.first_lane import supplier_invoices
from zestpail.desk.people import people
from zestpail.runtime import cluster
from zestpail.store import open_store
from zestpail.store.migrate import migrate

ERASED, ACTS = 300, 6
FOLDER = "/delivered/" + "of-this-year/" * 60


def delivered(url: str, many: int) -> None:
    """A delivery of each document, and what the trail says of it."""
    moment = datetime(2026, 1, 1, tzinfo=UTC)

    def plan(at: int) -> str:
        pdf, rows = (hashlib.sha256(f"{at} {what}".encode()).hexdigest() for what in ("pdf", "rows"))
        return json.dumps(
            {
                "destination": "folder", "reference": str(at), "pdf": pdf, "path": f"2026/{at}.pdf", "folder": FOLDER,
                "beside": [{"path": f"2026/{at}.json", "blob": rows}],
            }
        )  # fmt: skip

    with psycopg.connect(url) as connection, connection.cursor() as cursor:
        copied(cursor, "delivery", "document_id, destination, version, content, terms, state, attempts, counter, "
               "place, path, plan, receipt", ((at, "folder", 1, "", "", "sent", 1, 0, "", "", plan(at), "{}")
                                       for at in range(1, many + 1)))  # fmt: skip
        copied(cursor, "event", "at, batch_id, document_id, what, before, after",
               ((moment, None if act == 0 else at // 100 + 1, at if act > 1 else None, "delivered", "{}", "{}")
                for at in range(1, many + 1) for act in range(ACTS)))  # fmt: skip
    with psycopg.connect(url, autocommit=True) as connection:
        connection.execute("VACUUM ANALYZE")


def main() -> None:
    """Fill it, and erase a few hundred."""
    many = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    folder = Path(tempfile.mkdtemp(prefix="zestpail-erasing-"))
    running = cluster.start(folder)
    try:
        migrate(running.url)
        store = open_store(running.url, str(folder / "blobs"))
        people.add_person(store, "bench", "Bench", "quillon-bench")
        set_up_lane(store, "invoices", "Invoices", supplier_invoices())
        enter_due(store)
        fill(running.url, many)
        delivered(running.url, many)
        chosen = range(5, many, many // ERASED)[:ERASED]
        began = perf_counter()
        keeping.erase(store, keeping.erase_chosen(store, chosen, "to see how long it takes", 1))
        spent = perf_counter() - began
        [record] = keeping.erasures(store)
        print(f"{many:,} documents: {record.erased} erased, {1000 * spent / len(chosen):.1f} ms each")
    finally:
        cluster.stop(running)
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
