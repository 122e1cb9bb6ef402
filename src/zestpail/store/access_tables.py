"""By what somebody or something is let in: tokens of programs, wrong passwords, and the keys of outside systems."""

from __future__ import annotations

from datetime import datetime

from sqlmodel import Field, SQLModel

from zestpail.store.columns import moment, typed_column
from zestpail.store.states import Scope


class WrongPasswords(SQLModel, table=True):
    """How often a wrong password was entered lately, for a login or from an address."""

    __tablename__ = "wrong_passwords"

    subject: str = Field(primary_key=True)
    """``login ines`` or ``address 10.0.0.7``."""
    count: int = 0
    last_at: datetime = moment(default_now=True)


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
    ends_at: datetime | None = moment()
    """From when on it is of no use; None where that is never."""
    scopes: tuple[Scope, ...] = typed_column(tuple[Scope, ...], tuple)
    lanes: tuple[str, ...] = typed_column(tuple[str, ...], tuple)
    """Keys of the lanes that it is for; empty where it is for all."""


class LanePerson(SQLModel, table=True):
    """Somebody to whom a lane is open; a lane of which there is nobody here is open to all."""

    __tablename__ = "lane_person"

    lane_id: int = Field(foreign_key="lane.id", primary_key=True)
    person_id: int = Field(foreign_key="person.id", primary_key=True)


class Secret(SQLModel, table=True):
    """The key or password of an outside system, sealed; it is never shown again."""

    name: str = Field(primary_key=True)
    sealed: str
