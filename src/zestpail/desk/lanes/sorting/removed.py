"""Samples that are taken out of the heap or of the tests: they are gone, and undoing puts them back as they were."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlmodel import Session

from zestpail.desk.documents.audit import note
from zestpail.desk.documents.journal import write_down
from zestpail.store.columns import put_back, saved
from zestpail.store.notices import changed
from zestpail.store.tables import Lane, SortingSample

KEPT = ("id", "lane_id", "type_key", "name", "blob", "role", "state", "problem", "pages", "person_id")


def subject_of(lane: Lane) -> str:
    """What changes of a lane's sorting are written down under."""
    return f"sorting {lane.id}"


def remove(session: Session, lane: Lane, sample: SortingSample, person_id: int) -> None:
    """Take a sample out, and write down what it takes to undo that."""
    write_down(session, subject_of(lane), f"removed {sample.name}", {"removed": saved(sample, KEPT)}, person_id)
    note(session, "sample_removed", person_id=person_id,
         before={"lane": lane.key, "type": sample.type_key, "file": sample.name, "blob": sample.blob})  # fmt: skip
    session.delete(sample)
    changed(session, f"sorting {lane.id}")


def put_samples_back(session: Session, before: Mapping[str, Any]) -> None:
    """Undo what happened to samples: those removed are there again, those that had no type have none."""
    if "removed" in before:
        sample = SortingSample(lane_id=0, type_key="", name="")
        put_back(sample, before["removed"])
        session.add(sample)
    for number in before.get("unsorted", ()):
        known = session.get(SortingSample, number)
        if known is not None:
            known.type_key = ""
