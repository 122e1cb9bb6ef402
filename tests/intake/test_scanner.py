"""A pile through the scanner: what stops it waits for a person; no sheet is lost or doubled, whatever breaks off."""

from __future__ import annotations

import io
import subprocess
import sys
from collections.abc import Iterator

import httpx
import pytest
from PIL import Image, ImageDraw

from tests.conftest import free_port
from tests.desk.flow import ids, jobs
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake import scanning
from zestpail.intake.scanner import HttpScanner, NoScanner, ScanSettings
from zestpail.store import Store
from zestpail.store.intake_tables import Scan
from zestpail.store.tables import ArrivedFile

LANE = "supplier-invoices"


def stack(sheets: int) -> bytes:
    """Fronts and backs, each as wide a bar as its number among the sides."""
    sides = []
    for number in range(2 * sheets):
        side = Image.new("1", (400, 500), 1)
        ImageDraw.Draw(side).rectangle((20, 200, 20 + 10 * (number + 1), 300), fill=0)
        sides.append(side)
    out = io.BytesIO()
    sides[0].save(out, "TIFF", save_all=True, append_images=sides[1:], compression="group4", dpi=(200, 200))
    return out.getvalue()


def sides_of(data: bytes) -> list[int]:
    """By the widths of their bars, which sides of the pile are there."""
    pages = [open_page(data, at).pixels for at in range(count_pages(data))]
    return [round(float((page[page.shape[0] // 2] < 128).sum()) / 10 * 400 / page.shape[1]) - 1 for page in pages]


@pytest.fixture
def device() -> Iterator[str]:
    """A stand-in that runs, with five sheets in it."""
    address = f"http://127.0.0.1:{free_port()}"
    command = [sys.executable, "-m", "zestpail.standins.scanner", "--port", address.rpartition(":")[2]]
    process = subprocess.Popen(command, env={"PYTHONPATH": "src:."})
    transport = httpx.HTTPTransport(retries=40)  # until it answers
    with httpx.Client(transport=transport, trust_env=False) as client:
        files = {"files": ("pile.tif", stack(5), "image/tiff")}
        client.post(f"{address}/paper", data={"both_sides": "true"}, files=files)
    yield address
    process.terminate()
    process.wait(10)


def fault(device: str, what: str, sheet: int) -> None:
    httpx.post(f"{device}/faults", data={"fault": what, "sheet": sheet}, trust_env=False)


def arrived(store: Store) -> bytes:
    (number,) = ids(store, ArrivedFile)
    with store.transaction() as session:
        return store.blobs.get(session.get_one(ArrivedFile, number).blob)


def test_a_pile_with_a_jam_and_a_double_feed(store: Store, ines: SignedIn, device: str) -> None:
    scanner = scanning.scanner_at(device)
    fault(device, "paper jam", 2)
    fault(device, "double feed", 4)
    place = scanning.scan_place(store, scanner, LANE)
    assert (place.device and place.device.sheets, place.scan) == (5, None)
    scan = scanning.begin_scan(store, scanner, LANE, ScanSettings(), ines.id)
    assert jobs(store) == [("scan_sheets", {"scan_id": scan})]
    with pytest.raises(NotDone, match="A scan for Supplier invoices is in the scanner already"):
        scanning.begin_scan(store, scanner, LANE, ScanSettings(), ines.id)
    for sheets, message, double in ((1, "jammed at sheet 2", False), (3, "together at sheet 4", True)):
        for _ in range(2):  # a step that is taken twice does nothing the second time
            scanning.scan_on(store, scanner, scan)
        view = scanning.scan_view(store, scan)
        assert (view.state, view.sheets, view.double) == ("stopped", sheets, double)
        assert message in view.problem
        scanning.go_on(store, scanner, scan, False, ines.id)
    scanning.scan_on(store, scanner, scan)
    view = scanning.scan_view(store, scan)
    assert (view.state, view.sheets, view.sides, view.batch_id) == ("done", 5, 10, 1)
    assert sides_of(arrived(store)) == list(range(10))
    with pytest.raises(NotDone, match="feeder"):
        scanning.begin_scan(store, scanner, LANE, ScanSettings(), ines.id)


def test_a_worker_that_dies_loses_and_doubles_no_sheet(
    store: Store, ines: SignedIn, device: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    scanner = scanning.scanner_at(device)
    scan = scanning.begin_scan(store, scanner, LANE, ScanSettings(duplex=False, dpi=300, colours="grey"), ines.id)
    usual, put = scanning._keep_sheet, []

    def dies(*given: object) -> None:
        put.append(given)
        if len(put) % 2:
            raise KeyboardInterrupt
        usual(*given)  # type: ignore[arg-type]
        if len(put) % 4 == 0:
            raise KeyboardInterrupt

    monkeypatch.setattr(scanning, "_keep_sheet", dies)
    for _ in range(20):
        try:
            scanning.scan_on(store, scanner, scan)
        except KeyboardInterrupt:
            continue
    assert len(put) > 8
    assert sides_of(arrived(store)) == [0, 2, 4, 6, 8], "each front once"
    with store.transaction() as session:
        first = store.blobs.get(session.get_one(Scan, scan).sheets[0])
    with Image.open(io.BytesIO(first)) as sheet:
        assert (sheet.info["dpi"], sheet.mode) == ((300, 300), "L")


def test_what_belongs_together_is_taken_as_one_and_a_pile_is_ended_early(
    store: Store, ines: SignedIn, device: str
) -> None:
    scanner = HttpScanner(device)
    fault(device, "double feed", 1)
    fault(device, "paper jam", 3)
    scan = scanning.begin_scan(store, scanner, LANE, ScanSettings(), ines.id)
    scanning.scan_on(store, scanner, scan)
    with pytest.raises(NotDone, match="Nothing is scanned yet"):
        scanning.end_scan(store, scan)
    scanning.go_on(store, scanner, scan, True, ines.id)
    scanning.scan_on(store, scanner, scan)
    scanning.end_scan(store, scan)
    assert sides_of(arrived(store)) == [0, 3, 4, 5], "the slip and its page are one sheet"
    with pytest.raises(NotDone, match="done already"):
        scanning.give_up(store, scan, ines.id)
    again = scanning.begin_scan(store, scanner, LANE, ScanSettings(), ines.id)
    scanning.give_up(store, again, ines.id)
    scanning.scan_on(store, scanner, again)
    assert scanning.scan_view(store, again).state == "given up"
    assert len(ids(store, ArrivedFile)) == 1, "nothing of it arrived"


def test_a_scanner_that_does_not_answer_is_told(store: Store, ines: SignedIn, device: str) -> None:
    away = HttpScanner(f"http://127.0.0.1:{free_port()}")
    assert "does not answer" in scanning.scan_place(store, away, LANE).problem
    with pytest.raises(NotDone, match="does not answer"):
        scanning.begin_scan(store, away, LANE, ScanSettings(), ines.id)
    scan = scanning.begin_scan(store, HttpScanner(device), LANE, ScanSettings(), ines.id)
    scanning.scan_on(store, away, scan)
    assert scanning.scan_view(store, scan).state == "stopped", "what was scanned is kept, and a person is asked"
    with pytest.raises(NotDone, match="Finish here"):
        scanning.go_on(store, away, scan, False, ines.id)
    with pytest.raises(NoScanner):
        HttpScanner(device).sheet("another", 1)
    with pytest.raises(Missing):
        scanning.scanner_at("")
