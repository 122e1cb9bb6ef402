"""A pile goes through the scanner, sheet by sheet; what stops it waits for a person; at the end it arrives as one file.

Each sheet is kept before the next one is asked for, and a sheet can be asked for again: a worker that dies loses none.
"""

from __future__ import annotations

import io
from dataclasses import dataclass

from PIL import Image
from sqlmodel import Session, col, select

from zestpail.core.writing.joined_tiff import joined_tiff
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.intake.arrivals import arrive
from zestpail.intake.scanner import Device, HttpScanner, NoScanner, Scanner, ScanSettings, Stopped
from zestpail.store import Store
from zestpail.store.intake_tables import Scan, ScanState
from zestpail.store.jobs import Priority, defer
from zestpail.store.notices import changed
from zestpail.store.tables import Lane

__all__ = ["ScanSettings", "begin_scan", "end_scan", "give_up", "go_on", "scan_on", "scan_place", "scan_view",
           "scanner_at", "stop_scan"]  # fmt: skip

WHAT_TO_DO = {
    "paper jam": "The paper is jammed at sheet {}. Take it out, lay it on top of the pile again, and go on.",
    "double feed": "Two sheets went through together at sheet {}. Lay both on top of the pile again and go on, or take "
    "them as one if they belong together, such as a page with a slip stuck on it.",
    "no paper": "There is no paper in the feeder. Lay it in and begin again.",
}


@dataclass(frozen=True)
class ScanView:
    id: int
    lane_key: str
    state: str
    problem: str
    double: bool
    """Whether sheets fed together can be taken as one."""
    sheets: int
    sides: int
    batch_id: int | None


@dataclass(frozen=True)
class ScanPlace:
    lane_key: str
    lane_name: str
    device: Device | None
    problem: str
    """Why there is no device."""
    scan: ScanView | None
    """The lane's last scan."""


def scanner_at(address: str) -> Scanner:
    """The scanner at that address. Raises Missing if there is none."""
    if not address:
        raise Missing("There is no scanner; an administrator can set one up.")
    return HttpScanner(address)


def scan_place(store: Store, scanner: Scanner, lane_key: str) -> ScanPlace:
    """What can be scanned for a lane now. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        scan = session.exec(select(Scan).where(Scan.lane_id == lane.id).order_by(col(Scan.id).desc())).first()
        view = _view(scan, lane) if scan else None
        name = lane.name
    try:
        device, problem = scanner.device(), ""
    except NoScanner as error:
        device, problem = None, str(error)
    return ScanPlace(lane_key, name, device, problem, view)


def scan_view(store: Store, scan_id: int) -> ScanView:
    """How a scan stands. Raises Missing."""
    with store.transaction() as session:
        scan = _scan(session, scan_id)
        return _view(scan, session.get_one(Lane, scan.lane_id))


def begin_scan(store: Store, scanner: Scanner, lane_key: str, settings: ScanSettings, person_id: int) -> int:
    """Begin to scan what lies in the feeder. Raises NotDone if it is empty, or another pile is being scanned."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        running = session.exec(select(Scan).where(col(Scan.state).in_((ScanState.SCANNING, ScanState.STOPPED)))).first()
        if running:
            where = session.get_one(Lane, running.lane_id).name
            raise NotDone(f"A scan for {where} is in the scanner already. End it first.")
        try:
            job = scanner.begin(settings)
        except Stopped as problem:
            raise NotDone(_message(str(problem), 1)) from problem
        except NoScanner as problem:
            raise NotDone(str(problem)) from problem
        scan = Scan(lane_id=lane.id or 0, person_id=person_id, settings=settings.model_dump(), job=job)
        session.add(scan)
        session.flush()
        note(session, "scan_begun", person_id=person_id, after={"lane": lane_key, **settings.model_dump()})
        defer(session, "scan_sheets", priority=Priority.OPEN, scan_id=scan.id)
        return scan.id or 0


def scan_on(store: Store, scanner: Scanner, scan_id: int) -> None:
    """Take sheets until there is no more paper, or something stops it. Does nothing if it is not scanning."""
    while (at := _next(store, scan_id)) is not None:
        job, number = at
        try:
            sheet = scanner.sheet(job, number)
        except (Stopped, NoScanner) as problem:
            stop_scan(store, scan_id, _message(str(problem), number))
            return
        if sheet is None:
            end_scan(store, scan_id)
            return
        _keep_sheet(store, scan_id, number, sheet)


def go_on(store: Store, scanner: Scanner, scan_id: int, keep: bool, person_id: int) -> None:
    """A person saw to what stopped it. Raises NotDone if it is not stopped, or the scanner does not answer."""
    with store.transaction() as session:
        scan = _scan(session, scan_id, ScanState.STOPPED)
        try:
            scanner.go_on(scan.job, keep)
        except NoScanner as problem:
            raise NotDone(f"{problem} Finish here to keep what is scanned.") from problem
        note(session, "scan_resumed", person_id=person_id, after={"sheets": len(scan.sheets), "why": scan.problem})
        scan.state, scan.problem = ScanState.SCANNING, ""
        defer(session, "scan_sheets", priority=Priority.OPEN, scan_id=scan.id)
        changed(session, f"scan {scan_id}")


def end_scan(store: Store, scan_id: int) -> None:
    """What is scanned so far is the pile, and arrives at its lane. Raises NotDone if that is nothing."""
    with store.together(), store.transaction() as session:
        scan = _scan(session, scan_id, ScanState.SCANNING, ScanState.STOPPED)
        if not scan.sheets:
            raise NotDone("Nothing is scanned yet; discard the scan instead.")
        key = session.get_one(Lane, scan.lane_id).key
        stack = joined_tiff(store.blobs.get(sheet) for sheet in scan.sheets)
        name = f"scan {scan.began_at.astimezone():%Y-%m-%d %H.%M.%S}.tif"
        scan.batch_id = arrive(store, key, name, stack, scan.person_id, None, "scanner")
        scan.state, scan.problem = ScanState.DONE, ""
        changed(session, f"scan {scan_id}")


def give_up(store: Store, scan_id: int, person_id: int) -> None:
    """Nothing of it arrives; the sheets are kept with the scan. Raises NotDone if it has ended."""
    with store.transaction() as session:
        scan = _scan(session, scan_id, ScanState.SCANNING, ScanState.STOPPED)
        scan.state = ScanState.GIVEN_UP
        note(session, "scan_abandoned", person_id=person_id, after={"sheets": len(scan.sheets)})
        changed(session, f"scan {scan_id}")


def stop_scan(store: Store, scan_id: int, why: str) -> None:
    """It waits for a person."""
    with store.transaction() as session:
        scan = session.get_one(Scan, scan_id, with_for_update=True)
        if scan.state == ScanState.SCANNING:
            scan.state, scan.problem = ScanState.STOPPED, why
            changed(session, f"scan {scan_id}")


def _next(store: Store, scan_id: int) -> tuple[str, int] | None:
    """The scanner's job and the number of the next sheet; None if it is not scanning."""
    with store.transaction() as session:
        scan = session.get_one(Scan, scan_id)
        return (scan.job, len(scan.sheets) + 1) if scan.state == ScanState.SCANNING else None


def _keep_sheet(store: Store, scan_id: int, number: int, sheet: bytes) -> None:
    blob = store.blobs.put(sheet)
    with Image.open(io.BytesIO(sheet)) as image:
        sides = getattr(image, "n_frames", 1)
    with store.transaction() as session:
        scan = session.get_one(Scan, scan_id, with_for_update=True)
        if len(scan.sheets) + 1 == number:
            scan.sheets, scan.sides = [*scan.sheets, blob], scan.sides + sides
            changed(session, f"scan {scan_id}")


def _scan(session: Session, scan_id: int, *states: ScanState) -> Scan:
    scan = session.get(Scan, scan_id, with_for_update=bool(states))
    if scan is None:
        raise Missing("There is no such scan.")
    if states and scan.state not in states:
        raise NotDone(f"This stack is {scan.state.value} already.")
    return scan


def _message(problem: str, number: int) -> str:
    return WHAT_TO_DO.get(problem, problem).format(number)


def _view(scan: Scan, lane: Lane) -> ScanView:
    double = scan.problem == _message("double feed", len(scan.sheets) + 1)
    return ScanView(
        scan.id or 0, lane.key, scan.state.value, scan.problem, double, len(scan.sheets), scan.sides, scan.batch_id
    )
