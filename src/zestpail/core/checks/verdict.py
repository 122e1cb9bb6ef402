"""What a check says of a document."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Protocol

from pydantic import BaseModel, ConfigDict

from zestpail.core.reference.held import NO_LISTS
from zestpail.core.reference.reference_list import Entry, ListSource


class Offer(BaseModel):
    """A value that would satisfy the check, offered to the person who settles it."""

    model_config = ConfigDict(frozen=True)

    field: str
    value: str
    text: str


class Verdict(BaseModel):
    """Whether a check is satisfied; ``message`` is a sentence for a person."""

    model_config = ConfigDict(frozen=True)

    check: str
    """The code of the check that says it."""
    passed: bool
    message: str
    fields: tuple[str, ...]
    offers: tuple[Offer, ...] = ()


class History(Protocol):
    """What is known of earlier documents of the type that were settled or delivered."""

    def alike(self, same: Mapping[str, str], but: str) -> tuple[str, str] | None:
        """Names an earlier document that has all these values, and what it has in the field ``but``."""

    def same_paper(self) -> str:
        """Names another document whose first page is a scan of the same paper; empty where there is none."""

    def usual(self, by: Mapping[str, str], key: str) -> Sequence[str]:
        """What earlier documents with these values had in a field, the last ones first."""


Before = Callable[[Mapping[str, str]], str]
"""Names the earlier document that has all these values; empty where there is none."""


@dataclass(frozen=True)
class DocumentValues:
    """The values of a document and what its fields are called."""

    values: Mapping[str, str | None]
    names: Mapping[str, str]
    tables: Mapping[str, Sequence[Mapping[str, str | None]]] = field(default_factory=dict)
    """The rows of its tables, each by column."""
    before: Before | None = None
    """What is known of earlier documents; None where nothing is kept."""
    history: History | None = None
    lists: ListSource = NO_LISTS
    entries: Mapping[str, Entry] = field(default_factory=dict)
    """By list, the entry that the document speaks of."""

    def name(self, key: str) -> str:
        return self.names.get(key, key)
