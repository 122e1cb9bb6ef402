"""What samples taught, as data that a document type carries: layouts that are remembered.

It is made by ``core/learning`` and only kept here, so that one file holds all of a type.
"""

from __future__ import annotations

import hashlib
from functools import cached_property

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.kinds import AnyKind
from zestpail.core.reading.geometry import Box

MOST_LAYOUTS = 2000
"""So many layouts can be remembered; of more, those that were taught first are let go."""


class StandingWords(BaseModel):
    """The words of a page that may stand on others of its layout: all but the values, each at its place.

    ``places`` holds for each word its left edge, middle height, right edge and height of print, in tenths of a point.
    """

    model_config = ConfigDict(frozen=True)

    page: int
    """Number of the page in the sample, from 0."""
    width: float
    height: float
    texts: tuple[str, ...]
    """The words as they are compared: without case and accents, look-alike characters made one."""
    places: tuple[int, ...]


class TaughtPlace(BaseModel):
    """Where the value of a field stood on the sample."""

    model_config = ConfigDict(frozen=True)

    key: str
    page: int | None = None
    """Number of the page in the sample, from 0; None for a value that stands nowhere on it."""
    box: Box | None = None
    value: str | None = None
    """The value; None where rightly nothing was there."""
    lines: int = 1
    """Over how many lines it went."""
    label: str = ""
    """What stood beside it, as a person reads it."""
    side: str = ""
    """Where the value stands from that: ``right`` or ``below``."""
    after: str = ""
    """The word that followed it, as words are compared; "" where nothing did."""


class RememberedLayout(BaseModel):
    """One labelled document, as it is remembered."""

    model_config = ConfigDict(frozen=True)

    sample: str
    """The name of the sample."""
    digest: str = ""
    """SHA-256 of its file, by which it is known again among the samples to test with."""
    pages: int
    words: tuple[StandingWords, ...]
    places: tuple[TaughtPlace, ...]


class TaughtSpot(BaseModel):
    """Where a value stood on a sample, among all that may be one of its kind."""

    model_config = ConfigDict(frozen=True)

    page: int
    """From 0."""
    pages: int
    x: float
    """Its middle, as a share of the page's width."""
    y: float
    """Its middle, as a share of the page's height."""
    rank: int
    """Which of how many different values of its kind it was, from 0."""
    of: int
    size: float | None = None
    """The share of them that were less; None for kinds that have no more and less."""
    times: int = 1
    """How often it stood there."""
    print: float = 1.0
    """Height of print against the usual one of its page."""
    side: str = ""
    """Where its label stood: ``left``, ``over``, in ``prose``, or "" for nowhere."""
    traits: dict[str, float] = Field(default_factory=dict)
    """What else is known of it, each in [0, 1]: whether it heads an address, what it is to other amounts."""


class TaughtField(BaseModel):
    """What the samples taught of a field that holds on any layout."""

    model_config = ConfigDict(frozen=True)

    key: str
    name: str = ""
    kind: AnyKind | None = None
    """What kind of value it was when it was taught."""
    labels: tuple[str, ...] = ()
    """What stood beside its values."""
    leads: tuple[str, ...] = ()
    """The last words before its values, where they stood in sentences."""
    sentences: tuple[str, ...] = ()
    """What its values stood in, with a mark in their place; for yes or no the sentences that say it."""
    examples: tuple[str, ...] = ()
    """Its values as they were printed."""
    follows: tuple[str, ...] = ()
    """The word that followed its values, such as a unit."""
    spots: tuple[TaughtSpot, ...] = ()
    """Where its values stood."""
    absent: int = 0
    """On how many samples there rightly was no value."""
    weights: dict[str, float] = Field(default_factory=dict)
    """What each fact counts for this field, as its samples moved it; empty for what papers of many makers taught."""


class Learned(BaseModel):
    """All that a type was taught by samples; never changed, so that two of the same digest are the same."""

    model_config = ConfigDict(frozen=True, ignored_types=(cached_property,))

    number: int = 1
    """Which learning of the type it is."""
    layouts: tuple[RememberedLayout, ...] = Field(default=(), max_length=MOST_LAYOUTS)
    fields: tuple[TaughtField, ...] = ()

    @cached_property
    def digest(self) -> str:
        return hashlib.sha256(self.model_dump_json().encode()).hexdigest()

    def __hash__(self) -> int:
        return hash(self.digest)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Learned) and (self is other or self.digest == other.digest)
