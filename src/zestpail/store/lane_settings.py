"""A lane as data: how what arrives at it is split, read, looked at and delivered."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from zestpail.core.reading.preparation.cleaning import Cleaning
from zestpail.core.reading.read import Way
from zestpail.core.separation import Separation
from zestpail.core.writing.file_names import Naming
from zestpail.core.writing.notes import NotesOut
from zestpail.delivery import AnyDestination, FolderDestination, LaneDestination, MailDestination
from zestpail.store.calls_settings import CallsFrom
from zestpail.store.lane_settings_1 import FORMAT_1, upgraded
from zestpail.store.sorting_settings import Sorting


class TypeUsed(BaseModel):
    """A published revision of a document type."""

    model_config = ConfigDict(frozen=True)

    key: str
    revision: int = 1


LEARNS = {"never": "never", "new_layouts": "if its layout is not known yet", "always": "always"}
"""Which reviewed documents become samples of their type, in words."""


class LaneSettings(BaseModel):
    """From arrival to delivery, in the order in which things happen; a person reads it as a letter."""

    model_config = ConfigDict(frozen=True)

    format: Literal["zestpail lane 2"] = "zestpail lane 2"
    type: str
    """Key of the document type that reads what arrives."""
    revision: int = 1
    other_types: tuple[TypeUsed, ...] = ()
    """Types that sheets may name for single documents, and that documents are sorted into."""
    sorting: Sorting | None = None
    """How it is told what documents are; None where all are of the lane's own type."""
    calls: CallsFrom | None = None
    """Another system that begins readings; None for none."""
    separation: Separation = Separation()
    """How what arrives is split into documents."""
    cleaning: Cleaning = Cleaning()
    """What is done to scanned pages before they are read."""
    reading: Way = "ordinary"
    """How pages are read that have no text of their own."""
    review_below: float = Field(default=0.9, ge=0, le=1)
    """Needed values less sure than this are shown to a person."""
    review_others_below: float = Field(default=0.6, ge=0, le=1)
    """And values that need not be there, if less sure than this."""
    review_aim: float | None = Field(default=None, ge=0, le=1000)
    """How many of a thousand delivered values may be wrong at most, if these two were set by that."""
    learns: Literal["never", "new_layouts", "always"] = "never"
    """Which documents that somebody reviewed become samples of their type."""
    take_back_seconds: int = Field(default=5, ge=0)
    """How long a reviewed document waits before it is delivered, so that it can be taken back."""
    kept_days: int | None = Field(default=None, ge=1, le=36_500)
    """For how many days after they arrived documents are kept; None for good."""
    naming: Naming
    notes: NotesOut = "kept"
    """What becomes of notes and highlights when a document is delivered."""
    destinations: tuple[AnyDestination, ...] = Field(min_length=1)
    """Where documents go, each by a delivery of its own."""

    @model_validator(mode="before")
    @classmethod
    def _of_today(cls, body: Any) -> Any:
        """Settings that were kept in format 1 are read as if they had been kept today."""
        return upgraded(body) if isinstance(body, Mapping) and body.get("format") == FORMAT_1 else body

    @model_validator(mode="after")
    def _told_apart(self) -> LaneSettings:
        """Destinations without an id get one by their kind and number; two with one id cannot be."""
        taken = {one.id for one in self.destinations if one.id}
        named: list[AnyDestination] = []
        for one in self.destinations:
            number, free = 1, one.id or one.destination
            while not one.id and free in taken:
                number += 1
                free = f"{one.destination}-{number}"
            taken.add(free)
            named.append(one if one.id else one.model_copy(update={"id": free}))
        if len({one.id for one in named}) != len(named):
            raise ValueError("two destinations have the same id")
        object.__setattr__(self, "destinations", tuple(named))
        return self

    @property
    def folder(self) -> FolderDestination | None:
        """The first of its folders."""
        return next((one for one in self.destinations if isinstance(one, FolderDestination)), None)

    @property
    def mail(self) -> MailDestination | None:
        """Whither its sheets may have documents sent."""
        return next((one for one in self.destinations if isinstance(one, MailDestination) and not one.to), None)

    @property
    def next_lane(self) -> LaneDestination | None:
        """The lane to which documents are handed on."""
        return next((one for one in self.destinations if isinstance(one, LaneDestination)), None)

    def may_mail(self, address: str) -> bool:
        """Whether a sheet may have documents sent there."""
        return self.mail is not None and self.mail.allows(address)

    @property
    def known_at_once(self) -> bool:
        """Whether it is known before reading what a document is: each file is one, of the lane's own type."""
        return self.separation.each_file and self.sorting is None

    def of_type(self, type_key: str) -> LaneSettings:
        """The settings as they hold for documents of that type: its own thresholds and destinations."""
        own = self.sorting.of(type_key) if self.sorting else None
        if own is None:
            return self
        changed: dict[str, Any] = {
            name: value for name in ("review_below", "review_others_below") if (value := getattr(own, name)) is not None
        }
        if own.destinations is not None:
            there = tuple(one for one in self.destinations if one.id in own.destinations)
            changed |= {"destinations": there} if there else {}
        return self.model_copy(update=changed)

    def used(self, type_key: str) -> TypeUsed | None:
        """The type of that name among those that the lane reads with; no name means its own."""
        own = TypeUsed(key=self.type, revision=self.revision)
        return next((used for used in (own, *self.other_types) if used.key == (type_key or self.type)), None)
