"""The finder of what a barcode says, or a part of it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.setting import Setting

READ = 0.999
"""Barcodes carry their own check; what was read at all was read rightly."""


class InBarcode(Finder):
    """Take the text of a barcode, or a part of it."""

    title: ClassVar[str] = "In a barcode"
    added_by: ClassVar[str] = "on"
    finder: Literal["barcode"] = "barcode"
    symbology: str = ""
    """Only barcodes of this symbology; any, if empty."""
    begins_with: Annotated[str, Setting("that begins with")] = ""
    """Only barcodes that begin with this."""
    after: Annotated[str, Setting("what stands after")] = ""
    """Only what stands after this; all from the beginning, if empty."""
    before: Annotated[str, Setting("and before")] = ""
    """Only what stands before this; all to the end, if empty."""
    first: Annotated[int, Setting("of that, character", "number")] = Field(default=1, ge=1)
    """The first character of what is left that is taken, counted from 1."""
    last: Annotated[int | None, Setting("to character", "number", hint="last")] = Field(default=None, ge=1)
    """The last one; to the end, if none is given."""
    weight: float = Field(default=0.95, gt=0, le=1)

    @model_validator(mode="after")
    def _in_order(self) -> InBarcode:
        if self.last is not None and self.last < self.first:
            raise ValueError("the last character of a barcode comes before the first one")
        return self

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Take ")
        yield Piece(self._part, "barcode.after")
        yield Piece(" ")
        yield Piece(f"any {self.symbology} barcode" if self.symbology else "any barcode", "barcode.begins_with")
        if self.begins_with:
            yield Piece(f" that begins with “{self.begins_with}”", "barcode.begins_with")
        yield Piece(".")

    @property
    def _part(self) -> str:
        bounds = [
            f"what stands {side} “{text}” in" for side, text in (("after", self.after), ("before", self.before)) if text
        ]
        message = " and ".join(bounds) or "the text of"
        if self.first == 1 and self.last is None:
            return message
        to = f"to {self.last}" if self.last else "to the end"
        return f"characters {self.first} {to} of {message}" if bounds else f"characters {self.first} {to} of"

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """The wanted part of each barcode that is of the field's kind."""
        for page, reading in enumerate(context.document.pages):
            for order, code in enumerate(reading.barcodes):
                if (self.symbology and code.symbology != self.symbology) or not code.text.startswith(self.begins_with):
                    continue
                raw = self.taken(code.text)
                value = target.kind.parse(raw, context.style) if raw.strip() else None
                if value:
                    yield Candidate(
                        value=value, raw=raw, page=page, box=code.box, confidence=READ, finder=self.finder,
                        parts={"barcode": self.weight, "place": round(0.97**order, 3)},
                        reason=f"in the {code.symbology}", made=True, agreed=True,
                    )  # fmt: skip

    def taken(self, text: str) -> str:
        """The wanted part of a barcode's text; nothing where it lacks what bounds that."""
        if self.after:
            text = text.partition(self.after)[2]
        if self.before:
            text = text.partition(self.before)[0] if self.before in text else ""
        return text[self.first - 1 : self.last]
