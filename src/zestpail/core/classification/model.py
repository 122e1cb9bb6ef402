"""A classifier as data: the types that documents may have, with the sketches of their samples, cues, descriptions."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from zestpail.core.classification.cues import Cue
from zestpail.core.classification.page_sketch import PageSketch

UNKNOWN = "unknown"
"""What documents are that are of no type."""
MOST_PAGES = 12
"""Pages of a sample that are kept: the first ones and the last."""
Key = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9_-]{0,79}$")]


class Sample(BaseModel):
    """One document of a type."""

    model_config = ConfigDict(frozen=True)

    name: str = Field(max_length=300)
    pages: tuple[PageSketch, ...] = Field(min_length=1, max_length=MOST_PAGES)


class ClassifiedType(BaseModel):
    """One type that documents may have."""

    model_config = ConfigDict(frozen=True)

    key: Key
    name: str = Field(default="", max_length=200)
    samples: tuple[Sample, ...] = ()
    cues: tuple[Cue, ...] = ()
    description: str = Field(default="", max_length=400)
    """One sentence of what such a document is."""

    @property
    def called(self) -> str:
        """What people call it."""
        return self.name or self.key


class Classifier(BaseModel):
    """What is needed to tell documents apart."""

    model_config = ConfigDict(frozen=True)

    format: Literal["zestpail classifier 1"] = "zestpail classifier 1"
    types: tuple[ClassifiedType, ...] = ()

    def type_of(self, key: str) -> ClassifiedType | None:
        """The type of that key."""
        return next((one for one in self.types if one.key == key), None)


def kept_pages(pages: tuple[PageSketch, ...]) -> tuple[PageSketch, ...]:
    """The pages of a sample that are kept, without empty ones."""
    written = tuple(page for page in pages if not page.empty)
    return written if len(written) <= MOST_PAGES else (*written[: MOST_PAGES - 1], written[-1])
