"""The finder of what is worked out from other fields: arithmetic, a part, joined, translated, or a fixed text."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from decimal import ROUND_HALF_UP, Decimal, DivisionByZero, InvalidOperation
from typing import Annotated, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, Lookup, SearchContext
from zestpail.core.finders.finder import Finder, Piece, Stage
from zestpail.core.reading.geometry import Box

NOWHERE = Box(0, 0, 1, 1)
"""Where a fixed text stands that goes by no landmark."""

Part = Literal["first_word", "last_word", "first_line", "last_line", "figures", "letters"]
PARTS: dict[Part, str] = {
    "first_word": "the first word",
    "last_word": "the last word",
    "first_line": "the first line",
    "last_line": "the last line",
    "figures": "the figures",
    "letters": "the letters",
}
Operation = Literal["plus", "minus", "times", "divided_by"]
OPERATIONS: dict[Operation, str] = {"plus": "plus", "minus": "minus", "times": "times", "divided_by": "divided by"}


class _Way(BaseModel):
    model_config = ConfigDict(frozen=True)


class Calculation(_Way):
    """Arithmetic of two fields, rounded to so many decimals."""

    how: Literal["arithmetic"] = "arithmetic"
    one: str
    operation: Operation
    other: str
    decimals: int = Field(default=2, ge=0, le=6)

    @property
    def fields(self) -> tuple[str, ...]:
        return (self.one, self.other)

    @property
    def sentence(self) -> str:
        return f"{self.one} {OPERATIONS[self.operation]} {self.other}"

    def worked_out(self, values: Sequence[str]) -> str | None:
        try:
            one, other = (Decimal(value) for value in values)
            done = {"plus": one.__add__, "minus": one.__sub__, "times": one.__mul__, "divided_by": one.__truediv__}
            rounded = done[self.operation](other).quantize(Decimal(1).scaleb(-self.decimals), ROUND_HALF_UP)
        except (InvalidOperation, DivisionByZero):
            return None
        return f"{rounded:f}"


class PartOf(_Way):
    """A part of another field's text."""

    how: Literal["part"] = "part"
    of: str
    part: Part

    @property
    def fields(self) -> tuple[str, ...]:
        return (self.of,)

    @property
    def sentence(self) -> str:
        return f"{PARTS[self.part]} of {self.of}"

    def worked_out(self, values: Sequence[str]) -> str | None:
        text = values[0]
        words, lines = text.split(), text.split("\n")
        parts = {
            "first_word": words[0] if words else "",
            "last_word": words[-1] if words else "",
            "first_line": lines[0],
            "last_line": lines[-1],
            "figures": "".join(c for c in text if c.isdigit()),
            "letters": "".join(c for c in text if c.isalpha()),
        }
        return parts[self.part] or None


class Joined(_Way):
    """Several fields, one after the other."""

    how: Literal["joined"] = "joined"
    of: tuple[str, ...] = Field(min_length=2)
    between: str = Field(default=" ", max_length=20)

    @property
    def fields(self) -> tuple[str, ...]:
        return self.of

    @property
    def sentence(self) -> str:
        return f"{' and '.join(self.of)}, joined by “{self.between}”"

    def worked_out(self, values: Sequence[str]) -> str | None:
        return self.between.join(values)


class Translated(_Way):
    """Another field's value by a list; what is not in the list gives nothing, or the value itself."""

    how: Literal["translated"] = "translated"
    of: str
    by: dict[str, str] = Field(min_length=1)
    else_itself: bool = False

    @property
    def fields(self) -> tuple[str, ...]:
        return (self.of,)

    @property
    def sentence(self) -> str:
        first = next(iter(self.by.items()))
        return f"{self.of} translated by a list of {len(self.by)} (“{first[0]}” becomes “{first[1]}”)"

    def worked_out(self, values: Sequence[str]) -> str | None:
        plain = {key.casefold(): to for key, to in self.by.items()}
        return plain.get(values[0].casefold(), values[0] if self.else_itself else None)


class ByList(_Way):
    """What a reference list says in a column of the entry that another field's value identifies."""

    how: Literal["by_list"] = "by_list"
    of: str
    list: str = Field(min_length=1)
    column: str = Field(min_length=1)

    @property
    def fields(self) -> tuple[str, ...]:
        return (self.of,)

    @property
    def sentence(self) -> str:
        return f"“{self.column.replace('_', ' ')}” of {self.of} in the reference list “{self.list.replace('-', ' ')}”"

    def worked_out(self, values: Sequence[str], lists: Lookup | None = None) -> str | None:
        entry = lists.identified(self.list, values[0]) if lists else None
        return entry.values.get(self.column) if entry else None


class Fixed(_Way):
    """Always the same text, or only where a landmark is found."""

    how: Literal["fixed_text"] = "fixed_text"
    text: str = Field(min_length=1)
    where: str | None = None

    @property
    def fields(self) -> tuple[str, ...]:
        return ()

    @property
    def sentence(self) -> str:
        return f"“{self.text}”" + (f" where {self.where} is found" if self.where else "")

    def worked_out(self, values: Sequence[str]) -> str | None:  # noqa: ARG002 - it goes by no field
        return self.text


class Computed(Finder):
    """Work the value out from other fields."""

    stage: ClassVar[Stage] = "choice"
    finder: Literal["computed"] = "computed"
    way: Annotated[Calculation | PartOf | Joined | Translated | ByList | Fixed, Field(discriminator="how")]

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        yield Piece("Calculate it: ")
        yield Piece(self.way.sentence, "way")
        yield Piece(".")

    def needs(self, key: str) -> dict[str, str | None]:  # noqa: ARG002 - itself may be of any kind
        """The fields that it goes by."""
        return dict.fromkeys(self.way.fields)

    @property
    def asks(self) -> str:
        """The reference list that it asks, where it looks a field up in one."""
        return self.way.list if isinstance(self.way, ByList) else ""

    @property
    def landmarks(self) -> tuple[str, ...]:
        """The landmark that it goes by."""
        return (self.way.where,) if isinstance(self.way, Fixed) and self.way.where else ()

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """What comes out of the values that were chosen; nothing where one is missing or nothing comes out."""
        seen = next((context.landmark(key) for key in self.landmarks), None)
        bases = [chosen[0] for key in self.way.fields if (chosen := target.others.get(key))]
        if len(bases) < len(self.way.fields) or (self.landmarks and seen is None):
            return
        text = self._worked_out([base.value for base in bases], context)
        value = target.kind.parse(text, context.style) if text else None
        if not text or not value:
            return
        page, box = (bases[0].page, bases[0].box) if bases else (seen.page, seen.box) if seen else (0, NOWHERE)
        yield Candidate(
            value=value,
            raw=text,
            page=page,
            box=box,
            confidence=min((base.confidence for base in bases), default=1.0),
            finder=self.finder,
            parts={"from": round(min((base.score for base in bases), default=1.0), 3)},
            reason=f"worked out: {self.way.sentence}",
            made=True,
        )

    def _worked_out(self, values: Sequence[str], context: SearchContext) -> str | None:
        if isinstance(self.way, ByList):
            return self.way.worked_out(values, context.lists)
        return self.way.worked_out(values)
