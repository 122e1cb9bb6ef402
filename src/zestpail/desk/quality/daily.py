"""Daily work: what reviewers changed of what was read, how much went through untouched, how long review took.

A value that nobody changed counts as right: she who reviewed the document let it stand.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from statistics import median

from sqlmodel import Session

from zestpail.core.evaluation.measure import Measure
from zestpail.core.reading.geometry import Box
from zestpail.desk.quality.rows import cells_kept
from zestpail.store.queries.daily_work import settled_documents, told_of_all, values_of_all
from zestpail.store.tables import Document, FieldValue
from zestpail.store.trail_tables import Event

MOST = 500
"""The newest documents that are looked at."""
LONGEST = 1800.0
"""Seconds after which a document that lay open was left and not reviewed."""


@dataclass(frozen=True)
class Changed:
    """A value that a reviewer changed."""

    document: int
    key: str
    was: str
    now: str
    confidence: float
    page: int | None
    box: Box | None


@dataclass
class DailyWork:
    """What came of the newest settled documents."""

    measure: Measure = field(default_factory=Measure)
    documents: int = 0
    untouched: int = 0
    """Documents that nobody had to settle."""
    seconds: float | None = None
    """How long review of a document took, half of them less; None where nobody reviewed one."""
    changed: list[Changed] = field(default_factory=list)


def daily_work(session: Session, type_key: str, revision: int | None, lane: str, closed: Collection[int]) -> DailyWork:
    """What reviewers made of the documents of a type."""
    documents = settled_documents(session, type_key, revision, lane, closed, MOST)
    ids = [document.id or 0 for document in documents]
    values: dict[int, list[FieldValue]] = defaultdict(list)
    told: dict[int, list[Event]] = defaultdict(list)
    for value in values_of_all(session, ids):
        values[value.document_id].append(value)
    for event in told_of_all(session, ids):
        told[event.document_id or 0].append(event)
    work = DailyWork(documents=len(documents))
    spent = [seconds for number in ids if (seconds := _seconds(told[number])) is not None]
    work.seconds = median(spent) if spent else None
    for document in documents:
        _count(work, document, values[document.id or 0], as_read(told[document.id or 0]))
    work.measure.cells.update(cells_kept(session, ids))
    return work


def _count(
    work: DailyWork, document: Document, values: Sequence[FieldValue], before: Mapping[str, Mapping[str, object]]
) -> None:
    """Take one document into account: what was read, against what it is now."""
    found, truth = {}, {}
    for value in values:
        read = before.get(value.key)
        was = read.get("value") if read else value.value
        sure = float(str(read.get("confidence") or 0)) if read else value.confidence
        found[value.key], truth[value.key] = (str(was) if was else None, sure), value.value
        if (was or None) != (value.value or None):
            box = Box(*value.box) if len(value.box) == 4 else None
            work.changed.append(
                Changed(document.id or 0, value.key, str(was or ""), value.value or "", sure, value.page, box)
            )
    work.measure.add(str(document.id), found, truth)
    work.untouched += document.settled_by_id is None and not before


def as_read(events: Sequence[Event]) -> dict[str, Mapping[str, object]]:
    """By field that was changed, how it was before the first change."""
    first: dict[str, Mapping[str, object]] = {}
    for event in events:
        if event.what == "values_changed":
            for key, saved in event.before.get("values", {}).items():
                first.setdefault(key, saved)
    return first


def _seconds(events: Sequence[Event]) -> float | None:
    """From when somebody opened the document to when she settled it."""
    opened: datetime | None = None
    for event in events:
        if event.what in ("review_opened", "review_taken_over"):
            opened = event.at
        elif event.what == "settled" and opened and event.person_id:
            seconds = (event.at - opened).total_seconds()
            return seconds if 0 < seconds < LONGEST else None
    return None
