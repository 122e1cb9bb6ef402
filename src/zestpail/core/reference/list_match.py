"""What came of looking a document up in a list, as it is kept with the document."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from zestpail.core.reading.geometry import Box
from zestpail.core.reference.match import Match, Matched


class LikelyEntry(BaseModel):
    """An entry that may be meant."""

    model_config = ConfigDict(frozen=True)

    key: str
    label: str
    why: str
    against: str = ""


class ListMatch(BaseModel):
    """The entry of a list that a document speaks of, why, and the next best."""

    model_config = ConfigDict(frozen=True)

    list: str
    revision: int = 0
    entry: str | None = None
    """What identifies the entry; None where none was taken."""
    sure: float = 0.0
    likely: tuple[LikelyEntry, ...] = ()
    """The entries that may be meant, the likeliest first."""
    page: int = 0
    box: Box | None = None
    """Where the weightiest reason for the likeliest stands."""

    @property
    def label(self) -> str:
        """The entry that was taken, as a person knows it."""
        return next((likely.label for likely in self.likely if likely.key == self.entry), self.entry or "")


def kept(key: str, matched: Matched) -> ListMatch:
    """The match as it is kept."""
    place = matched.best.place if matched.best else None
    matches = (matched.best, *matched.others) if matched.best else ()
    return ListMatch(
        list=key,
        revision=matched.revision,
        entry=matched.entry.key if matched.entry else None,
        sure=matched.sure,
        likely=tuple(_likely(match) for match in matches),
        page=place.page if place else 0,
        box=place.box if place else None,
    )


def _likely(match: Match) -> LikelyEntry:
    return LikelyEntry(key=match.entry.key, label=match.entry.label, why=match.why, against=match.against)
