"""How a lane tells what documents are, as data: types with samples, cues and descriptions, and what differs by type."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.classification.cues import Cue

UNKNOWN_ONES: dict[str, str] = {"held": "held for a person", "as_type": "taken for a type of their own"}
LEARNING: dict[str, str] = {
    "when_agreed": "when the person who decides agrees",
    "always": "each time somebody decides",
    "never": "never",
}


class SortedType(BaseModel):
    """One type that documents of a lane may be of."""

    model_config = ConfigDict(frozen=True)

    key: str
    samples: tuple[int, ...] = ()
    """Numbers of its samples."""
    cues: tuple[Cue, ...] = ()
    description: str = Field(default="", max_length=400)
    review_below: float | None = Field(default=None, ge=0, le=1)
    review_others_below: float | None = Field(default=None, ge=0, le=1)
    """Where its documents are looked at otherwise than the lane's; None where not."""
    destinations: tuple[str, ...] | None = None
    """The ids of the lane's destinations that its documents go to; None for all."""


class Sorting(BaseModel):
    """By what documents are sorted."""

    model_config = ConfigDict(frozen=True)

    types: tuple[SortedType, ...] = ()
    unknown: Literal["held", "as_type"] = "held"
    """What becomes of documents of none of the types."""
    unknown_type: str = ""
    """The type of its own that they are taken for."""
    learns: Literal["when_agreed", "always", "never"] = "when_agreed"
    """Whether what a person decides becomes a sample."""

    def of(self, key: str) -> SortedType | None:
        """The type of that key, if documents are sorted into it."""
        return next((one for one in self.types if one.key == key), None)

    def with_type(self, changed: SortedType) -> Sorting:
        """With the type as it is now; added if it is new."""
        if self.of(changed.key) is None:
            return self.model_copy(update={"types": (*self.types, changed)})
        return self.model_copy(
            update={"types": tuple(changed if one.key == changed.key else one for one in self.types)}
        )

    def without_type(self, key: str) -> Sorting:
        """Without that type."""
        return self.model_copy(update={"types": tuple(one for one in self.types if one.key != key)})
