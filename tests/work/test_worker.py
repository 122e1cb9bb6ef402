"""Real worker processes on a real queue: one is killed in the middle of a page, nothing is lost or doubled."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import pytest
from sqlalchemy import text

from tests.desk.flow import drop
from zestpail.desk.batches.batch import batch_view
from zestpail.desk.batches.today import today
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.store import Store

ROOT = Path(__file__).parents[2]


def start(store: Store, data: Path) -> subprocess.Popen[bytes]:
    environment = {
        **os.environ, "ZESTPAIL_DATABASE_URL": store.url, "ZESTPAIL_DATA": str(data),
        "ZESTPAIL_BLOBS": str(data / "blobs"), "ZESTPAIL_STALLED_AFTER": "2",
    }  # fmt: skip
    return subprocess.Popen([sys.executable, "-m", "zestpail", "work", "--child"], env=environment, cwd=ROOT)


def wait_for(what: Callable[[], bool], seconds: float = 300) -> None:
    deadline = time.monotonic() + seconds
    while not what():
        assert time.monotonic() < deadline, "waited in vain"
        time.sleep(0.05)


@pytest.mark.usefixtures("every_page_read")
def test_a_killed_worker_loses_nothing_and_doubles_nothing(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    names = ("hallig-01.tif", "brevanne-01.pdf", "tarnwick-01.jpg")
    batch = drop(store, ines, *names)

    def reading_now() -> bool:
        with store.engine.connect() as connection:
            query = "SELECT count(*) FROM procrastinate_jobs WHERE status = 'doing' AND task_name = 'read_page'"
            return bool(connection.execute(text(query)).scalar_one())

    def finished() -> bool:
        lane = today(store).lanes[0]
        return lane.delivered.count + lane.review.count == len(names)

    first = start(store, tmp_path)
    wait_for(reading_now)
    first.send_signal(signal.SIGKILL)
    first.wait()
    assert not finished()
    others = [start(store, tmp_path) for _ in range(2)]
    try:
        wait_for(finished)
    finally:
        for other in others:
            other.terminate()
        codes = [other.wait(30) for other in others]
    assert codes == [0, 0]
    view = batch_view(store, batch)
    assert [len(file.documents) for file in view.files] == [1, 1, 1]
    assert [len(document.pages) for document in view.documents] == [2, 1, 1]
    reads = [row for row in view.trail if row.what == "page_read"]
    assert len(reads) == 4
    delivered = [document for document in view.documents if document.state == "delivered"]
    assert delivered
    lines = (tmp_path / "delivered/supplier-invoices/supplier-invoices.csv").read_text().splitlines()
    assert len(lines) == 1 + len(delivered)
    pdfs = list((tmp_path / "delivered/supplier-invoices").glob("*/*.pdf"))
    assert len(pdfs) == len(delivered)
