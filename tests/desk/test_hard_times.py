"""Full disks, killed workers and two hundred files at once: nothing is lost, and nothing is doubled."""

from __future__ import annotations

import os
import resource
import signal
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest

from tests.desk.flow import ids
from tests.desk.test_piles import begin, lies
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.pipeline import split
from zestpail.intake import Arrived
from zestpail.intake.folder import AGAIN, QUIET, Seen, take
from zestpail.runtime.intakes import keeper
from zestpail.store import Store
from zestpail.store.tables import ArrivedFile, Document

LANE, MANY = "supplier-invoices", 200


@contextmanager
def no_file_larger_than(size: int) -> Iterator[None]:
    """The kernel breaks off every longer write in the middle, as a full disk does."""
    before = resource.getrlimit(resource.RLIMIT_FSIZE)
    resource.setrlimit(resource.RLIMIT_FSIZE, (size, before[1]))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, before)


def test_two_hundred_files_at_once_and_everything_stops_in_between(store: Store, tmp_path: Path) -> None:
    folder, seen, keep = tmp_path / LANE, Seen(), keeper(store)
    folder.mkdir()
    for number in range(MANY):
        (folder / f"{number}.pdf").write_bytes(b"%%PDF-1.7 %d" % number)
    saved: list[str] = []

    def stops(arrived: Arrived) -> None:
        keep(arrived)
        saved.append(arrived.name)
        if len(saved) == MANY // 2:
            raise KeyboardInterrupt

    take(folder, LANE, stops, seen, 0.0)
    with pytest.raises(KeyboardInterrupt):
        take(folder, LANE, stops, seen, QUIET + 1)
    for at in (QUIET + 2, 2 * QUIET + 3, 3 * QUIET + 4):
        take(folder, LANE, keep, seen, at)
    assert len(ids(store, ArrivedFile)) == MANY, "the one that was kept but not yet moved was known again"
    assert [path.name for path in folder.iterdir() if path.is_file()] == []
    assert len(list((folder / "done").iterdir())) == MANY - 1
    (details,) = (folder / "refused").glob("*.reason.txt")
    assert "came already" in details.read_text()


def test_a_full_disk_loses_nothing(store: Store, tmp_path: Path) -> None:
    folder, seen, keep = tmp_path / LANE, Seen(), keeper(store)
    folder.mkdir()
    (folder / "large.pdf").write_bytes(b"%PDF-1.7 " + os.urandom(400_000))
    (folder / "small.pdf").write_bytes(b"%PDF-1.7 small")
    take(folder, LANE, keep, seen, 0.0)
    with no_file_larger_than(100_000):
        take(folder, LANE, keep, seen, QUIET + 1)
    assert (folder / "large.pdf").exists(), "it stays where it is"
    assert len(ids(store, ArrivedFile)) == 1, "the other one was taken"
    assert list((tmp_path / "blobs").rglob("*.arriving")) == [], "nothing half is left"
    take(folder, LANE, keep, seen, 2 * QUIET + 1 + AGAIN)
    assert len(ids(store, ArrivedFile)) == 2
    assert (folder / "done" / "large.pdf").exists()


DIES = """
import os, signal, sys
from zestpail.desk.pipeline import split
from zestpail.store import open_store
usual = split.note
def note(session, what, **told):
    usual(session, what, **told)
    if what == "document_split":
        os.kill(os.getpid(), signal.SIGKILL)
split.note = note
split.separate_file(open_store(sys.argv[1], sys.argv[2]), 1)
"""


def test_a_worker_killed_while_it_cuts(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    batch = begin(store, ines)
    command = [sys.executable, "-c", DIES, store.url, str(tmp_path / "blobs")]
    died = subprocess.run(command, env={**os.environ}, check=False)
    assert died.returncode == -signal.SIGKILL
    assert (ids(store, Document), lies(store, batch)[0][0]) == ([], "not split yet"), "half a cut is none"
    split.separate_file(store, 1)
    assert [title for title, _ in lies(store, batch)].count("Crew list") == 2
    assert len(ids(store, Document)) == 2
