"""How soon the page ribbon of a long batch is there: ``python -m bench.ribbon``. 500 pages, on a private PostgreSQL."""

from __future__ import annotations

import io
import statistics
import time
from pathlib import Path

import numpy as np
from PIL import Image

from bench.private import private_store, signed_in
from zestpail.desk import arrivals, lanes, mending
from zestpail.desk.lane_letter import supplier_invoices
from zestpail.desk.people import SignedIn
from zestpail.store import Store
from zestpail.store.tables import ArrivedFile, Document, FileState, Page, PageState

PAGES, EACH, TIMES = 500, 4, 9


def main() -> None:
    with private_store() as (store, folder, person):
        _measure(store, folder, person)


def _measure(store: Store, folder: Path, person: SignedIn) -> None:
    lanes.set_up_lane(store, "bench", "Bench", supplier_invoices())
    arrivals.arrive(store, "bench", "pile.tif", b"pile", person.id, None)
    out = io.BytesIO()
    Image.fromarray(np.full((220, 156), 240, np.uint8)).save(out, "JPEG")
    picture = store.blobs.put(out.getvalue())
    with store.transaction() as session:
        session.get_one(ArrivedFile, 1).state = FileState.CUT
        for at in range(PAGES):
            if at % EACH == 0:
                session.add(Document(id=at // EACH + 1, batch_id=1, file_id=1, revision_id=1, cut={"why": "barcode"}))
                session.flush()
            session.add(Page(document_id=at // EACH + 1, file_id=1, position=at % EACH, file_index=at, place=at,
                             state=PageState.READ, thumbnail=picture, width=595, height=842))  # fmt: skip
    client = signed_in(store, folder)
    opened, mended = [], []
    for at in range(TIMES):
        began = time.perf_counter()
        assert client.get("/batches/1/ribbon").text.count('class="tile"') == PAGES
        opened.append(time.perf_counter() - began)
        began = time.perf_counter()
        mending.leave_out(store, 10 + at, person.id)
        mended.append(time.perf_counter() - began)
    print(f"ribbon of {PAGES} pages, the page    {statistics.median(opened):6.3f} s (median of {TIMES})")
    print(f"one mending, kept              {statistics.median(mended):6.3f} s")


if __name__ == "__main__":
    main()
