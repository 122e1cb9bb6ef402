"""Extractions that programs ask for, without a lane: what was sent, and what came of it."""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum
from typing import Any

from sqlalchemy import UniqueConstraint
from sqlmodel import Field, SQLModel

from zestpail.store.columns import json_column, moment, states


class CallState(StrEnum):
    """waiting → done | failed."""

    WAITING = "waiting"
    DONE = "done"
    FAILED = "failed"


class ExtractionCall(SQLModel, table=True):
    """One file that a program had read by a type; the file is forgotten when it is read."""

    __tablename__ = "extraction_call"
    __table_args__ = (UniqueConstraint("token_id", "identity"),)

    id: int | None = Field(default=None, primary_key=True)
    token_id: int = Field(foreign_key="api_token.id", index=True)
    identity: str | None = None
    """By which the program knows it; called again with it, nothing is read twice."""
    type_key: str
    revision: int
    name: str
    pages: list[int] = json_column([])
    """Numbers from 1; empty for all."""
    content: bytes = b""
    """What was sent; empty once it is read."""
    digest: str = ""
    """Of what was sent (SHA-256)."""
    state: CallState = states(CallState, CallState.WAITING)
    result: dict[str, Any] = json_column({})
    problem: str = ""
    made_at: datetime = moment(default_now=True)
