"""The finder of what a reference list says of the entry that the paper speaks of, such as a supplier's number."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.reading.geometry import Box
from zestpail.core.setting import Setting


class FromList(Finder):
    """Take what a column of a reference list says of the entry that the paper speaks of."""

    title: ClassVar[str] = "From a reference list"
    added_by: ClassVar[str] = "column"
    finder: Literal["from_list"] = "from_list"
    list: Annotated[str, Setting("Of the reference list", "list")] = ""
    column: Annotated[str, Setting("Take the column", "list_column")] = ""
    named_by: Annotated[str, Setting("The entry is named as", "field")] = ""
    """The field whose names are looked up; "" where any name on the paper may be meant."""

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Take ")
        yield Piece(f"“{self.column.replace('_', ' ') or '…'}”", "from_list.column")
        yield Piece(" of the entry that the paper speaks of, from the reference list ")
        yield Piece(f"“{self.list.replace('-', ' ') or '…'}”", "from_list.list")
        yield Piece(".")

    @property
    def asks(self) -> str:
        """The reference list that it asks."""
        return self.list

    def needs(self, key: str) -> dict[str, str | None]:
        """The field that names the entry."""
        return {self.named_by: None} if self.named_by and self.named_by != key else {}

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """What the list says of the entry that was found; nothing where none was."""
        matched = context.lists.matched(self.list, self.named_by, context) if context.lists and self.list else None
        entry = matched.entry if matched else None
        text = entry.values.get(self.column, "").strip() if entry else ""
        if not matched or not matched.best or not text:
            return
        place = matched.best.place
        yield Candidate(
            value=target.kind.parse(text, context.style) or text,
            raw=text,
            page=place.page if place else 0,
            box=place.box if place and place.box else Box(0, 0, 1, 1),
            confidence=1.0,
            finder=self.finder,
            parts={"entry": matched.sure},
            reason=f"as the list {matched.list_name} says of {matched.best.entry.label}: {matched.best.why}",
            made=True,
            elsewhere=True,
            most_sure=matched.sure,
            agreed=True,
        )
