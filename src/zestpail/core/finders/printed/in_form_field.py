"""The finder of what was filled into a field of a PDF form."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

from rapidfuzz import fuzz

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.landmarks.labels import folded
from zestpail.core.reading.page import FormEntry
from zestpail.core.setting import Setting

FILLED_IN = 0.999
"""What stands in a form was typed, and is not read."""
LIKE = 84.0
"""How alike (0 to 100) a field's name and a label must be; what the labels of print need."""


class InFormField(Finder):
    """Take what was filled into the form field of that name."""

    title: ClassVar[str] = "In a PDF form field"
    added_by: ClassVar[str] = "name"
    finder: Literal["form_field"] = "form_field"
    name: Annotated[str, Setting("The form calls it")] = ""

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Take what was filled into the form field ")
        yield Piece(f"“{self.name}”", "form_field.name")
        yield Piece(".")

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """The entries of that name."""
        for page, reading in enumerate(context.document.pages):
            for entry in reading.form:
                if entry.name == self.name:
                    yield from filled_in(
                        context, target, page, entry, 1.0, self.finder, f"in the form field “{self.name}”"
                    )


def named_like(
    context: SearchContext, target: FieldTarget, labels: tuple[str, ...], finder: str
) -> Iterator[Candidate]:
    """What was filled into form fields that are called as one of the labels."""
    wanted = [folded(label) for label in labels]
    for page, reading in enumerate(context.document.pages):
        for entry in reading.form:
            names = [folded(name) for name in entry.labels]
            alike = max((fuzz.ratio(name, label) for name in names for label in wanted), default=0.0)
            if alike >= LIKE:
                called = f"in the form field “{entry.labels[0]}”"
                yield from filled_in(context, target, page, entry, alike / 100, finder, called)


def filled_in(
    context: SearchContext, target: FieldTarget, page: int, entry: FormEntry, label: float, finder: str, reason: str
) -> Iterator[Candidate]:
    """The entry as a candidate, if it is of the field's kind."""
    if entry.ticked is not None or not entry.value.strip():
        return
    value = target.kind.parse(entry.value, context.style)
    if value:
        yield Candidate(
            value=value, raw=entry.value, page=page, box=entry.box, confidence=FILLED_IN, finder=finder,
            parts={"label": round(label, 3)}, reason=reason, agreed=True,
        )  # fmt: skip
