"""By what somebody or something is let in: tokens of programs, wrong passwords, and the keys of outside systems."""

from __future__ import annotations

from datetime import datetime

from sqlmodel import Field, SQLModel

from zestpail.store.columns import moment


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


class Secret(SQLModel, table=True):
    """The key or password of an outside system, sealed; it is never shown again."""

    name: str = Field(primary_key=True)
    sealed: str
