"""Teaching from folders: one sub-folder of samples per type, its name the type's key."""

from __future__ import annotations

import re
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass
from pathlib import Path

from zestpail.core.classification.model import UNKNOWN, ClassifiedType, Classifier, Sample, kept_pages
from zestpail.core.classification.page_ties import PageTies, ties_of
from zestpail.core.problems import Unreadable, why_unread
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.page import PageReading
from zestpail.core.reading.processes import reading_processes
from zestpail.core.reading.read import read_page
from zestpail.core.writing.mail_pages import readable

HIDDEN = re.compile(r"^[.~]|\.(json|txt|md|csv)$", re.IGNORECASE)
"""Names of files that are no samples: hidden ones, truths, notes."""


@dataclass(frozen=True)
class ReadFile:
    """The pages of a file as they were read, or why it could not be."""

    path: Path
    pages: tuple[PageReading, ...] = ()
    ties: tuple[PageTies, ...] = ()
    problem: str = ""


def read_file(path: Path) -> ReadFile:
    """Read all pages of one file in this process."""
    try:
        data = readable(path.name, path.read_bytes())
        pages = tuple(read_page(open_page(data, at), second=False).reading for at in range(count_pages(data)))
    except Exception as problem:  # of whatever kind: the other files go on
        return ReadFile(path, problem=why_unread(problem))
    return ReadFile(path, pages, tuple(ties_of(page) for page in pages))


def read_files(paths: Sequence[Path]) -> list[ReadFile]:
    """Read files on all cores, in the order given; one that takes its process down is told of as unreadable."""
    read: list[ReadFile] = []
    while len(read) < len(paths):
        with reading_processes() as pool:
            begun = [pool.submit(read_file, path) for path in paths[len(read) :]]
            try:
                for result in begun:
                    read.append(result.result())
            except BrokenProcessPool as problem:
                read.append(_alone(paths[len(read)], problem))
    return read


def _alone(path: Path, problem: Exception) -> ReadFile:
    with reading_processes(1) as pool:
        return _tried(pool, path, problem)


def _tried(pool: ProcessPoolExecutor, path: Path, problem: Exception) -> ReadFile:
    try:
        return pool.submit(read_file, path).result()
    except BrokenProcessPool:
        return ReadFile(path, problem=why_unread(problem))


def sample_files(folder: Path) -> dict[str, list[Path]]:
    """By type the files of its samples. Raises Unreadable where the folder has none, or a name is no key."""
    if not folder.is_dir():
        raise Unreadable(f"{folder} is not a folder.")
    found = {
        place.name: sorted(path for path in place.iterdir() if path.is_file() and not HIDDEN.search(path.name))
        for place in sorted(folder.iterdir())
        if place.is_dir() and not place.name.startswith(".")
    }
    if not any(found.values()):
        raise Unreadable(
            f"In {folder} there is no sub-folder with samples. Make one for each type; its name is the type's key."
        )
    return found


def teach_folder(folder: Path) -> tuple[Classifier, list[str]]:
    """The classifier that the samples teach, and a sentence for each sample that is left aside. Raises Unreadable."""
    files = sample_files(folder)
    read = {done.path: done for done in read_files([path for paths in files.values() for path in paths])}
    types, aside = [], []
    for name, paths in files.items():
        samples = []
        for done in (read[path] for path in paths):
            pages = kept_pages(
                tuple(ties.sketch for page, ties in zip(done.pages, done.ties, strict=True) if not page.blank)
            )
            if done.problem:
                aside.append(f"{name}/{done.path.name} is left aside: {done.problem}")
            elif not pages:
                aside.append(f"{name}/{done.path.name} is left aside: nothing is written on it.")
            else:
                samples.append(Sample(name=done.path.name[:300], pages=pages))
        types.append(
            ClassifiedType(key=key_of(name), name=name if key_of(name) != name else "", samples=tuple(samples))
        )
    return Classifier(types=tuple(types)), aside


def key_of(name: str) -> str:
    """The key for a folder's name. Raises Unreadable where none can be made of it."""
    key = re.sub(r"[^a-z0-9_]+", "-", name.casefold()).strip("-_")
    if not key or key == UNKNOWN:
        raise Unreadable(f"“{name}” cannot be the key of a type.")
    return key[:80]
