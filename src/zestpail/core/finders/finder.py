"""What all finders share: they are data, they say themselves in a sentence, and they propose candidates in one method.

Adding one is a module here and a line in ``finders/__init__.py``: its settings form follows from its model.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import ClassVar, Literal

from pydantic import BaseModel, ConfigDict

from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.landmarks.labels import Label, LabelMatch
from zestpail.core.reading.geometry import Box

Stage = Literal["page", "candidates", "choice", "data"]
"""When a finder has its turn: it looks at the page; it goes by candidates of this and other fields, before any is
chosen; it goes by what was chosen for other fields; or it says what the file's own data say, whatever was chosen."""


@dataclass(frozen=True)
class Piece:
    """Some words of a sentence; ``setting`` names what they stand for, if that can be changed."""

    text: str
    setting: str = ""


class Finder(BaseModel):
    """One way of finding a field. Each subclass has a ``finder`` code of its own."""

    model_config = ConfigDict(frozen=True)

    stage: ClassVar[Stage] = "page"
    title: ClassVar[str] = ""
    """What its settings are called in a form; without one it has no form."""
    added_by: ClassVar[str] = ""
    """The setting that makes a rule have this finder as soon as it is filled in; "" where no form adds it."""
    by_label: ClassVar[bool] = False
    """Whether it finds nothing where none of its labels is found."""
    unbounded: ClassVar[bool] = False
    """Whether what a person entered may take any time, so that it is tried before it is kept."""

    @classmethod
    def code(cls) -> str:
        """What tells it apart in files."""
        return str(cls.model_fields["finder"].default)

    @property
    def stays_when_emptied(self) -> bool:
        """Whether it has more than its form shows, and stays although that was emptied."""
        return False

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it, in pieces."""
        raise NotImplementedError

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """What it proposes for the field. Raises TooSlow where what a person entered takes too long."""
        raise NotImplementedError

    @property
    def sentence(self) -> str:
        """The rule as a person reads it."""
        return "".join(piece.text for piece in self.pieces())

    @property
    def asks(self) -> str:
        """The reference list that it asks; "" for none."""
        return ""

    @property
    def landmarks(self) -> tuple[str, ...]:
        """Keys of the landmarks that it measures from."""
        return ()

    def wordings(self, key: str) -> Iterator[Label]:  # noqa: ARG002 - most have none
        """The labels that take part in the matching for its sake."""
        yield from ()

    def needs(self, key: str) -> Mapping[str, str | None]:  # noqa: ARG002 - most stand by themselves
        """The fields without which it cannot work, and of which kind each must be (None for any)."""
        return {}

    def areas(self, context: SearchContext, match: LabelMatch) -> Iterator[tuple[Box, str]]:  # noqa: ARG002
        """Where on the page (points) a value would stand by that label, for the second reader to look at."""
        yield from ()

    def value_beside(self, text: str) -> str | None:  # noqa: ARG002 - most have no options
        """The value that a click on these words means, where they are not the value themselves."""
        return None


class TooSlow(ValueError):
    """An expression that takes too long on a line; says which."""
