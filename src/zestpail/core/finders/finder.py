"""What all finders share: they are data, they say themselves in a sentence, and most have no labels of their own."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from pydantic import BaseModel, ConfigDict

from zestpail.core.landmarks.labels import Label


@dataclass(frozen=True)
class Piece:
    """Some words of a sentence; ``setting`` names what they stand for, if that can be changed."""

    text: str
    setting: str = ""


class Finder(BaseModel):
    """One way of finding a field."""

    model_config = ConfigDict(frozen=True)

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it, in pieces."""
        raise NotImplementedError

    @property
    def sentence(self) -> str:
        """The rule as a person reads it."""
        return "".join(piece.text for piece in self.pieces())

    def wordings(self, key: str) -> Iterator[Label]:  # noqa: ARG002 - most have none
        """The labels that take part in the matching for its sake."""
        yield from ()

    def needs(self, key: str) -> Mapping[str, str | None]:  # noqa: ARG002 - most stand by themselves
        """The fields without which it cannot work, and of which kind each must be (None for any)."""
        return {}
