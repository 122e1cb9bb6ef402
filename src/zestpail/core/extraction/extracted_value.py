"""What is found in a document: its values, its tables, and what the checks say of them."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from zestpail.core.checks import Verdict
from zestpail.core.extraction.alternatives import OtherReading
from zestpail.core.extraction.choose import RunnerUp
from zestpail.core.finders import Candidate
from zestpail.core.kinds import Style
from zestpail.core.reading.geometry import Box
from zestpail.core.reference.list_match import ListMatch
from zestpail.core.tables import ExtractedTable


class ExtractedValue(BaseModel):
    """What was found for one field, where, how surely, and what else it might have been."""

    model_config = ConfigDict(frozen=True)

    key: str
    value: str | None = None
    raw: str = ""
    confidence: float = 0.0
    page: int | None = None
    """Number of the page in the document, from 0."""
    box: Box | None = None
    finder: str = ""
    reason: str = ""
    doubt: str = ""
    """The weightiest reason not to be surer."""
    doubtful: tuple[int, ...] = ()
    """Which characters of ``raw`` were read unsurely."""
    readings: tuple[OtherReading, ...] = ()
    candidates: tuple[Candidate, ...] = ()
    """The short list, the losing ones too, best first."""


class Extraction(BaseModel):
    """Everything found in one document."""

    model_config = ConfigDict(frozen=True)

    values: tuple[ExtractedValue, ...]
    tables: tuple[ExtractedTable, ...] = ()
    verdicts: tuple[Verdict, ...]
    style: Style
    runner_up: RunnerUp | None = None
    entries: dict[str, ListMatch] = {}
    """By reference list, the entry that the document speaks of."""
    unfamiliar: bool = False
    """Whether its layout is unlike those that are known, so that every value should be looked at."""
