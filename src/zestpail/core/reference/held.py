"""Lists that are held in memory: for the command line, for trials and for measuring."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from functools import lru_cache
from pathlib import Path

from rapidfuzz import fuzz, process
from slugify import slugify

from zestpail.core.problems import Unreadable, why_unread
from zestpail.core.reference.entries import gathered, lines_in, plain_values
from zestpail.core.reference.match import comparable
from zestpail.core.reference.proposed import proposed_list
from zestpail.core.reference.reference_list import Entry, ReferenceList
from zestpail.core.reference.table_file import table_in
from zestpail.core.reference.traces import bare, tokens_of

LEAST_ALIKE = 60
"""Likeness, of 100, under which no name is looked at."""


class HeldLists:
    """Lists with all their entries."""

    def __init__(self, lists: Iterable[tuple[ReferenceList, Iterable[Mapping[str, str]]]]) -> None:
        self._lists = {model.key: _Held(model, rows) for model, rows in lists}

    def model(self, key: str) -> ReferenceList | None:
        return self._lists[key].model if key in self._lists else None

    def revision(self, key: str) -> int:  # noqa: ARG002 - nothing is counted here
        return 0

    def entry(self, key: str, identifier: str) -> Entry | None:
        return self._lists[key].entries.get(identifier) if key in self._lists else None

    def having(self, key: str, column: str, value: str) -> Sequence[Entry]:
        """The entries that have this in the column, written in any way."""
        held = self._lists.get(key)
        return [e for e in held.entries.values() if bare(e.values.get(column, "")) == bare(value)] if held else []

    def traced(self, key: str, tokens: Collection[str]) -> Sequence[Entry]:
        """The entries that have one of these tokens."""
        return self._lists[key].traced(tokens)

    def named_like(self, key: str, texts: Sequence[str], most: int) -> Sequence[Entry]:
        """The entries whose names are most like one of the texts, at most so many."""
        return self._lists[key].named_like(texts, most)


@lru_cache(maxsize=4)
def lists_in(files: tuple[Path, ...]) -> HeldLists:
    """The lists in these files, each under its file's name; what their columns say is proposed. Raises Unreadable."""
    return HeldLists(_list_in(file) for file in files)


def _list_in(file: Path) -> tuple[ReferenceList, list[dict[str, str]]]:
    try:
        table = table_in(file.read_bytes(), file.name)
    except OSError as problem:
        raise Unreadable(f"{file}: {why_unread(problem)}") from problem
    model = proposed_list(list_key(file), file.stem, table)
    keys = [column.key for column in model.columns]
    return model, [dict(zip(keys, row, strict=True)) for row in table.rows]


def list_key(file: Path) -> str:
    """What the list of a file is asked by: the file's name in small letters and dashes."""
    plain = slugify(file.stem)
    return plain if plain[:1].isalpha() else f"list-{plain}"


NO_LISTS = HeldLists(())
"""Where no list is kept."""


class _Held:
    def __init__(self, model: ReferenceList, rows: Iterable[Mapping[str, str]]) -> None:
        self.model = model
        self.entries = {
            key: Entry(model, key, plain_values(values), lines=lines_in(values))
            for key, values in gathered(model, rows).entries.items()
        }
        self._by_token: dict[str, list[Entry]] = defaultdict(list)
        self._names: list[tuple[str, Entry]] = []
        for entry in self.entries.values():
            for token in tokens_of(entry):
                self._by_token[token].append(entry)
            self._names += [(comparable(name), entry) for name in entry.names]
        self._comparable = [name for name, _ in self._names]

    def traced(self, tokens: Collection[str]) -> list[Entry]:
        found = (entry for token in sorted(tokens) for entry in self._by_token.get(token, ()))
        return list({entry.key: entry for entry in found}.values())

    def named_like(self, texts: Sequence[str], most: int) -> list[Entry]:
        best: dict[str, tuple[float, Entry]] = {}
        for text in dict.fromkeys(comparable(text) for text in texts):
            for _, score, at in process.extract(
                text, self._comparable, scorer=fuzz.ratio, limit=most, score_cutoff=LEAST_ALIKE
            ):
                entry = self._names[at][1]
                if score > best.get(entry.key, (0.0, entry))[0]:
                    best[entry.key] = (score, entry)
        return [entry for _, entry in sorted(best.values(), key=lambda one: -one[0])[:most]]
