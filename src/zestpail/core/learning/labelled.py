"""A document with what is right about its fields, as learning takes it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box


@dataclass(frozen=True)
class Label:
    """What is right for a field: its value, and where it stands if that is known; no value where rightly none is."""

    value: str | None
    page: int | None = None
    box: Box | None = None


@dataclass(frozen=True)
class LabelledDocument:
    """A sample: its name, what was read off it, and what is right about its fields."""

    name: str
    document: DocumentReading
    labels: Mapping[str, Label]
    digest: str = ""
    """SHA-256 of its file."""
