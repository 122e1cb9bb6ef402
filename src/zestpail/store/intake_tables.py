"""What arriving needs beside files and pages: piles in the scanner, and tokens of programs."""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum
from typing import Any

from sqlmodel import Field, SQLModel

from zestpail.store.columns import json_column, moment, states


class ScanState(StrEnum):
    SCANNING = "scanning"
    STOPPED = "stopped"
    """A person must see to the scanner."""
    DONE = "done"
    GIVEN_UP = "given up"


class ApiToken(SQLModel, table=True):
    """With what a program uses the API; only the hash of its secret is kept."""

    __tablename__ = "api_token"

    id: int | None = Field(default=None, primary_key=True)
    name: str
    secret_hash: str = Field(unique=True)
    person_id: int | None = Field(default=None, foreign_key="person.id")
    made_at: datetime = moment(default_now=True)
    used_at: datetime | None = moment()
    revoked_at: datetime | None = moment()


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
