"""What arriving needs beside files and pages: piles in the scanner, and calls of other systems."""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum
from typing import Any

from sqlalchemy import UniqueConstraint
from sqlmodel import Field, SQLModel

from zestpail.store.columns import json_column, moment, states


class ScanState(StrEnum):
    SCANNING = "scanning"
    STOPPED = "stopped"
    """A person must see to the scanner."""
    DONE = "done"
    GIVEN_UP = "given up"


class CallState(StrEnum):
    """waiting → taken | failed → waiting."""

    WAITING = "waiting"
    TAKEN = "taken"
    FAILED = "failed"


class OutsideCall(SQLModel, table=True):
    """A call by which another system begins a reading; what it speaks of is fetched by a worker."""

    __tablename__ = "outside_call"
    __table_args__ = (UniqueConstraint("lane_id", "identity"),)

    id: int | None = Field(default=None, primary_key=True)
    lane_id: int = Field(foreign_key="lane.id", index=True)
    identity: str
    """By which the caller knows it; called again with it, nothing is read twice."""
    record: str
    """Id of the record over there."""
    state: CallState = states(CallState, CallState.WAITING)
    attempts: int = 0
    problem: str = ""
    next_at: datetime | None = moment()
    batch_id: int | None = Field(default=None, foreign_key="batch.id")
    came_at: datetime = moment(default_now=True)


class Scan(SQLModel, table=True):
    """A pile as it goes through the scanner; every sheet is kept before the next one is asked for."""

    id: int | None = Field(default=None, primary_key=True)
    lane_id: int = Field(foreign_key="lane.id", index=True)
    person_id: int | None = Field(default=None, foreign_key="person.id")
    settings: dict[str, Any] = json_column({})
    job: str
    """What the scanner calls it."""
    state: ScanState = states(ScanState, ScanState.SCANNING)
    problem: str = ""
    """What stopped it; empty while it goes on."""
    sheets: list[str] = json_column([])
    """Blobs, one for each sheet."""
    sides: int = 0
    batch_id: int | None = Field(default=None, foreign_key="batch.id")
    began_at: datetime = moment(default_now=True)
