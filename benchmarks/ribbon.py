"""How soon the page ribbon of a long batch is there, and how it scrolls: ``python -m benchmarks.ribbon``.

500 pages on a private PostgreSQL; in headless Chromium the time until its first pages stand there, and the pauses
between frames while the wheel goes from its beginning to its end.
"""

from __future__ import annotations

import io
import statistics
import time
from pathlib import Path

import numpy as np
from PIL import Image

from benchmarks.private import private_store, served, signed_in
from demo.make import open_browser
from zestpail.desk.batches import page_moves
from zestpail.desk.documents import context
from zestpail.desk.intake import arrivals
from zestpail.desk.lanes.first_lane import supplier_invoices
from zestpail.desk.people.people import SignedIn
from zestpail.store import Store
from zestpail.store.states import FileState, PageState
from zestpail.store.tables import ArrivedFile, Document, Page

PAGES, EACH, TIMES = 500, 4, 9
PAINTED = "return performance.getEntriesByName('first-contentful-paint')[0].startTime"
SCROLL = """
  const done = arguments[0], place = document.querySelector('.ribbon-place'), pauses = [];
  let before = performance.now();
  const step = (now) => {
    pauses.push(now - before);
    before = now;
    place.scrollBy(0, 60);
    if (place.scrollTop + place.clientHeight < place.scrollHeight - 1) return requestAnimationFrame(step);
    setTimeout(() => {
      const inView = [...document.querySelectorAll('.tile img')].filter((one) =>
        one.getBoundingClientRect().bottom > 0 && one.getBoundingClientRect().top < innerHeight);
      done([pauses.slice(1), inView.filter((one) => !one.complete || !one.naturalWidth).length]);
    }, 300);
  };
  requestAnimationFrame(step);
"""


def main() -> None:
    with private_store() as (store, folder, person):
        _measure(store, folder, person)


def _measure(store: Store, folder: Path, person: SignedIn) -> None:
    context.set_up_lane(store, "bench", "Bench", supplier_invoices())
    arrivals.arrive(store, "bench", "pile.tif", b"pile", person.id, None)
    out = io.BytesIO()
    Image.fromarray(np.full((220, 156), 240, np.uint8)).save(out, "JPEG")
    picture = store.blobs.put(out.getvalue())
    with store.transaction() as session:
        session.get_one(ArrivedFile, 1).state = FileState.SPLIT_DOUBT
        for at in range(PAGES):
            if at % EACH == 0:
                session.add(
                    Document(id=at // EACH + 1, batch_id=1, file_id=1, revision_id=1, origin={"why": "barcode"})
                )
                session.flush()
            session.add(Page(document_id=at // EACH + 1, file_id=1, stack_id=1, position=at % EACH, file_index=at,
                             place=at, state=PageState.READ, thumbnail=picture, width=595, height=842))  # fmt: skip
    client = signed_in(store, folder)
    opened, mended = [], []
    for at in range(TIMES):
        began = time.perf_counter()
        assert client.get("/batches/1/ribbon").text.count('class="tile"') == PAGES
        opened.append(time.perf_counter() - began)
        began = time.perf_counter()
        page_moves.leave_out(store, 10 + at, person.id)
        mended.append(time.perf_counter() - began)
    print(f"ribbon of {PAGES} pages, the page    {statistics.median(opened):6.3f} s (median of {TIMES})")
    print(f"one mending, kept              {statistics.median(mended):6.3f} s")
    with served(store, folder) as address:
        _scrolled(address)


def _scrolled(address: str) -> None:
    browser = open_browser()
    browser.set_script_timeout(60)
    try:
        browser.get(f"{address}/sign-in")
        browser.find_element("id", "login").send_keys("bench")
        browser.find_element("id", "password").send_keys("quillon\n")
        there = []
        for _ in range(TIMES):
            browser.get(f"{address}/batches/1/ribbon")
            there.append(browser.execute_script(PAINTED))
        pauses, blank = browser.execute_async_script(SCROLL)
        print(f"in the browser, first painted  {statistics.median(there) / 1000:6.3f} s")
        print(f"scrolled, {len(pauses)} frames: {statistics.median(pauses):.0f} ms from one to the next, "
              f"{statistics.quantiles(pauses, n=100)[98]:.0f} ms at the 99th of 100, "
              f"{max(pauses):.0f} ms at most; {blank} pages without a picture at the end")  # fmt: skip
    finally:
        browser.quit()


if __name__ == "__main__":
    main()
