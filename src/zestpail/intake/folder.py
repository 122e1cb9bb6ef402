"""Watched folders, one for each lane; what was taken is moved to *done* beside it, else to *refused* with the reason.

A file is taken when it has not changed for a while, so that slow copies arrive whole. It is moved only after it is
kept; if everything stopped in between, it is met again and told to be kept before.
"""

from __future__ import annotations

import shutil
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from pathlib import Path

import structlog
from watchfiles import watch

from zestpail.intake.arrived import Arrived, Keep, NotKept

log = structlog.get_logger()
DONE, REFUSED = "done", "refused"
QUIET = 1.0
"""Seconds in which a file must not have changed."""
AGAIN = 5.0
"""Seconds after which one that could not be taken is tried again."""
MOST = 200_000_000
"""Bytes of a file, unless it is said otherwise."""
LOOK = 500
"""Milliseconds after which the folders are looked at although nothing was heard of them."""
_PARTIAL = (".part", ".tmp", ".crdownload", ".filepart")


@dataclass(frozen=True)
class Look:
    """How a file looked, and since when (seconds of a steady clock)."""

    size: int
    changed: int
    since: float


Seen = dict[Path, Look]


def follow(root: Path, lanes: Callable[[], Iterable[str]], keep: Keep, stop: Callable[[], bool], most: int) -> None:
    """Take files of at most ``most`` bytes out of the lanes' folders under ``root`` until ``stop`` says so."""
    seen: Seen = {}
    root.mkdir(parents=True, exist_ok=True)
    for _ in watch(root, rust_timeout=LOOK, yield_on_timeout=True, raise_interrupt=False):
        if stop():
            return
        for lane in lanes():
            (root / lane).mkdir(exist_ok=True)
            take(root / lane, lane, keep, seen, time.monotonic(), most)


def take(folder: Path, lane: str, keep: Keep, seen: Seen, now: float, most: int = MOST) -> None:
    """Take what is complete: unchanged since it was first seen so, QUIET seconds before ``now``."""
    try:
        there = sorted(path for path in folder.iterdir() if path.is_file() and not path.is_symlink())
    except OSError as problem:
        log.warning("a watched folder cannot be looked at", folder=str(folder), problem=str(problem))
        return
    for gone in [path for path in seen if path.parent == folder and path not in there]:
        del seen[gone]
    for path in there:
        if path.name.startswith(".") or path.suffix.lower() in _PARTIAL:
            continue
        try:
            if _complete(path, seen, now):
                _take_one(path, lane, keep, most)
                seen.pop(path, None)
        except Exception as problem:  # the others go on, and this one is tried again after it changed, or a while
            log.warning("a file cannot be taken", file=str(path), problem=str(problem))
            if path in seen:
                seen[path] = replace(seen[path], since=now + AGAIN)


def _complete(path: Path, seen: Seen, now: float) -> bool:
    stat, before = path.stat(), seen.get(path)
    if before and (before.size, before.changed) == (stat.st_size, stat.st_mtime_ns):
        return now - before.since >= QUIET
    seen[path] = Look(stat.st_size, stat.st_mtime_ns, now)
    return False


def _take_one(path: Path, lane: str, keep: Keep, most: int) -> None:
    try:
        if (size := path.stat().st_size) > most:  # before anything of it is read
            raise NotKept(f"It has {size // 1_000_000} MB; at most {most // 1_000_000} MB are taken.")
        keep(Arrived(lane, path.name, path.read_bytes(), "watched folder"))
    except NotKept as refusal:
        moved = _moved(path, REFUSED)
        moved.with_name(f"{moved.name}.reason.txt").write_text(f"{refusal}\n", encoding="utf-8")
    else:
        _moved(path, DONE)


def _moved(path: Path, where: str) -> Path:
    """Into a folder beside it, never over another file."""
    folder = path.parent / where
    folder.mkdir(exist_ok=True)
    target, number = folder / path.name, 1
    while target.exists():
        number += 1
        target = folder / f"{path.stem} ({number}){path.suffix}"
    shutil.move(path, target)
    return target
