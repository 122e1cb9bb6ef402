"""Old and new names side by side: what documents of a trial run would be called, and what is wrong with that."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from itertools import chain
from pathlib import PurePosixPath
from typing import Any

from zestpail.core.writing.file_names import CounterPart, DatePart, FieldPart, Naming, compose, never_taken
from zestpail.delivery import Files, Refused
from zestpail.store.lane_settings import LaneSettings


@dataclass(frozen=True)
class NameTried:
    """One document's name as it came, and as it would be filed."""

    old: str
    new: str
    clash: str
    """The name that it would have if nobody else had it; "" where nobody has."""
    empty: list[str]
    """Parts of the name for which the document has no value."""


def names_of(
    documents: Sequence[tuple[str, Mapping[str, Any]]], settings: LaneSettings, counter: int,
    files: Callable[[str], Files],
) -> list[NameTried]:  # fmt: skip
    """In order, each with the counter that it would have; no two are called the same, nor as what is there already."""
    taken = set[str]()
    folder = settings.folder.folder if settings.folder else ""
    names = []
    for at, (old, document) in enumerate(documents, 1):
        values = document["named"]
        wanted = compose(settings.naming, values, counter + at, "pdf")
        new = never_taken(wanted, lambda path: str(path) in taken or _is_there(files, folder, path))
        taken.add(str(new))
        empty = _empty(settings.naming, values)
        names.append(NameTried(old, str(new), str(wanted) if new != wanted else "", empty))
    return names


def _is_there(files: Callable[[str], Files], folder: str, path: PurePosixPath) -> bool:
    try:
        return bool(folder) and files(folder).holds(path)
    except Refused:
        return False


def _empty(naming: Naming, values: Mapping[str, str | None]) -> list[str]:
    parts = chain(*naming.folders, naming.file)
    named = [part for part in parts if isinstance(part, FieldPart | DatePart) and not isinstance(part, CounterPart)]
    return [part.key.replace("_", " ") for part in named if not values.get(part.key)]
