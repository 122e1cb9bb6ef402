"""Tokens with which programs use the API. A token is shown once; only its hash is kept (SHA-256 of 256 random bits)."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime
from typing import NamedTuple

from sqlmodel import col, select

from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.store import Store
from zestpail.store.access_tables import ApiToken
from zestpail.store.columns import now

PREFIX = "pail_"


@dataclass(frozen=True)
class TokenRow:
    id: int
    name: str
    made_at: datetime
    used_at: datetime | None
    revoked: bool


def tokens(store: Store) -> list[TokenRow]:
    """All tokens, newest first."""
    with store.transaction() as session:
        found = session.exec(select(ApiToken).order_by(col(ApiToken.id).desc()))
        return [TokenRow(t.id or 0, t.name, t.made_at, t.used_at, t.revoked_at is not None) for t in found]


def make_token(store: Store, name: str, person_id: int) -> str:
    """A new token for the program of that name. Raises NotDone without a name."""
    called = " ".join(name.split())
    if not called or len(called) > 80:
        raise NotDone("Say which program the token is for, in at most 80 characters.")
    secret = PREFIX + secrets.token_urlsafe(32)
    with store.transaction() as session:
        session.add(ApiToken(name=called, secret_hash=_hash(secret), person_id=person_id))
        note(session, "token_made", person_id=person_id, after={"message": called})
    return secret


def revoke(store: Store, token_id: int, person_id: int) -> None:
    """From now on it is of no use. Raises Missing."""
    with store.transaction() as session:
        token = session.get(ApiToken, token_id)
        if token is None:
            raise Missing("There is no such token.")
        token.revoked_at = token.revoked_at or now()
        note(session, "token_revoked", person_id=person_id, after={"message": token.name})


class Holder(NamedTuple):
    """The program that a token was made for."""

    id: int
    name: str


def holder_of(store: Store, secret: str) -> Holder | None:
    """The program that the token was made for; None if it is none, or revoked."""
    with store.transaction() as session:
        token = session.exec(select(ApiToken).where(ApiToken.secret_hash == _hash(secret))).first()
        if token is None or token.revoked_at:
            return None
        token.used_at = now()
        return Holder(token.id or 0, token.name)


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
