"""Rows of a list as entries: a row each, or several where an entry has lines."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from zestpail.core.reference.reference_list import OF_LINES, ReferenceList

LONGEST_KEY = 200
"""Characters of what identifies an entry."""
LINES = ""
"""Under what the lines of an entry are kept among its values: no column has that key."""


@dataclass
class Gathered:
    """Entries by what identifies them, and what was not taken."""

    entries: dict[str, dict[str, object]] = field(default_factory=dict)
    again: dict[str, int] = field(default_factory=dict)
    """What identifies rows that came again, and how often."""
    nameless: int = 0
    """Rows without what identifies them."""


def gathered(model: ReferenceList, rows: Iterable[Mapping[str, str]]) -> Gathered:
    """The rows as entries. Where one thing identifies several, they are its lines, or only the first is taken."""
    found = Gathered()
    of_lines = [column.key for column in model.columns if column.says in OF_LINES]
    for row in rows:
        key = row.get(model.identifying.key, "")[:LONGEST_KEY]
        line = {name: row.get(name, "") for name in of_lines}
        if not key:
            found.nameless += 1
        elif key not in found.entries:
            rest = {name: text for name, text in row.items() if not model.lined or name not in of_lines}
            found.entries[key] = {**rest, LINES: [line]} if model.lined else dict(rest)
        elif model.lined:
            found.entries[key][LINES] = [*_lines(found.entries[key]), line]
        else:
            found.again[key] = found.again.get(key, 0) + 1
    return found


def _lines(values: Mapping[str, object]) -> list[Mapping[str, str]]:
    lines = values.get(LINES)
    return lines if isinstance(lines, list) else []


def plain_values(values: Mapping[str, object]) -> dict[str, str]:
    """What an entry says, without its lines."""
    return {name: str(text) for name, text in values.items() if name != LINES}


def texts_in(values: Mapping[str, object], column: str) -> tuple[str, ...]:
    """What an entry has in a column: one text, or that of each of its lines."""
    return (str(values[column]),) if column in values else tuple(line.get(column, "") for line in lines_in(values))


def lines_in(values: Mapping[str, object]) -> tuple[Mapping[str, str], ...]:
    """The lines of an entry."""
    return tuple({name: str(text) for name, text in line.items()} for line in _lines(values))
