"""Files that would cost minutes and gigabytes: they cost their budget, are told in a sentence, and others go on."""

from __future__ import annotations

import io
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pikepdf
import pytest
from pikepdf import Array, Dictionary, Name

from tests.conftest import DEMO
from tests.desk.flow import LANE
from zestpail.core.problems import Unreadable
from zestpail.core.reading.opening import open_page
from zestpail.desk.batches.batch import batch_view
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake.arrivals import arrive
from zestpail.store import Store

ROOT = Path(__file__).parents[2]
WITHIN = 240


def nested_forms(deep: int = 9, wide: int = 12) -> bytes:
    """A page that draws a form that draws a form …, each so many times: a few kilobytes, billions of lines."""
    pdf = pikepdf.new()
    inner = pdf.make_stream(b"0 0 m 500 700 l S")
    inner.Type, inner.Subtype, inner.BBox = Name.XObject, Name.Form, Array([0, 0, 595, 842])
    for _ in range(deep):
        outer = pdf.make_stream(b"/X Do " * wide)
        outer.Type, outer.Subtype, outer.BBox = Name.XObject, Name.Form, Array([0, 0, 595, 842])
        outer.Resources = Dictionary(XObject=Dictionary(X=inner))
        inner = outer
    content = pdf.make_stream(b"/X Do")
    page = Dictionary(Type=Name.Page, MediaBox=Array([0, 0, 595, 842]), Contents=content,
                      Resources=Dictionary(XObject=Dictionary(X=inner)))  # fmt: skip
    pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
    out = io.BytesIO()
    pdf.save(out)
    return out.getvalue()


def test_a_step_that_does_not_end_is_ended_and_others_go_on(
    request: pytest.FixtureRequest, store: Store, ines: SignedIn, tmp_path: Path
) -> None:
    if not request.config.getoption("--thorough"):
        pytest.skip("takes half a minute, as stalled steps are looked for every ten seconds: run with --thorough")
    data = nested_forms()
    assert len(data) < 10_000
    hostile = arrive(store, LANE, "nested.pdf", data, ines.id, None)
    invoice = arrive(store, LANE, "brevanne-01.pdf", (DEMO / "brevanne-01.pdf").read_bytes(), ines.id, None)
    environment = {
        **os.environ, "ZESTPAIL_DATABASE_URL": store.url, "ZESTPAIL_DATA": str(tmp_path), "ZESTPAIL_WORKERS": "2",
        "ZESTPAIL_STEP_PROCESSOR_SECONDS": "3", "ZESTPAIL_BLOBS": str(tmp_path / "blobs"), "ZESTPAIL_SMTP_PORT": "0",
        "ZESTPAIL_RUN_AS": "root",
    }  # fmt: skip
    command = [sys.executable, "-m", "zestpail", "serve", "--port", "0"]

    def told() -> bool:
        (document,) = batch_view(store, hostile).documents or [None]
        return document is not None and document.state in ("unreadable", "review")

    with (tmp_path / "log").open("wb") as log:
        server = subprocess.Popen(command, env=environment, cwd=ROOT, stdout=log)
    try:
        deadline = time.monotonic() + WITHIN
        while not told():
            assert time.monotonic() < deadline and server.poll() is None, "it was never told"
            time.sleep(0.2)
    finally:
        server.terminate()
        server.wait(60)
    said = (tmp_path / "log").read_text()
    assert said.count(f"process ended ({-signal.SIGXCPU})") == 2, "it is tried once more, and put aside"
    (document,) = batch_view(store, hostile).documents
    assert document.pages[0].problem == "Reading it took too long or broke off several times."
    assert batch_view(store, invoice).documents[0].state == "delivered", "ordinary ones were read beside it"


def test_a_page_of_a_pdf_has_so_many_pixels_at_most() -> None:
    pdf, out = pikepdf.new(), io.BytesIO()
    pdf.add_blank_page(page_size=(7_000, 7_000))
    pdf.save(out)
    with pytest.raises(Unreadable, match=r"has 378 million pixels; at most 150 million are read"):
        open_page(out.getvalue(), 0)


def test_a_step_gets_so_much_memory_and_writes_so_much(tmp_path: Path) -> None:
    program = (
        "import sys\nimport numpy as np\n"
        "from zestpail.work.budget import limit_process\n"
        "limit_process(300_000_000, 900_000_000, 1_000_000)\n"
        "np.ones(20_000_000, np.uint8)\n"
        "try:\n    np.ones(2_000_000_000, np.uint8)\nexcept MemoryError:\n    print('no more')\n"
        "from zestpail.core.reading.memory import all_that_may_be_asked_for\n"
        "with all_that_may_be_asked_for():\n    print(len(np.ones(600_000_000, np.uint8)))\n"
        "try:\n    np.ones(600_000_000, np.uint8)\nexcept MemoryError:\n    print('no more again')\n"
        "try:\n    open(sys.argv[1], 'wb').write(bytes(2_000_000))\nexcept OSError as told:\n    print(told.strerror)\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", program, str(tmp_path / "out")], capture_output=True, text=True, check=True, timeout=60,
        env={**os.environ, "PYTHONPATH": str(ROOT / "src")},
    )  # fmt: skip
    assert done.stdout == "no more\n600000000\nno more again\nFile too large\n"
