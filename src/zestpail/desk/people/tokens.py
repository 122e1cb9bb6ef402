"""Tokens with which programs use the API. A token is shown once; only its hash is kept (SHA-256 of 256 random bits)."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import NamedTuple

from pydantic import BaseModel, Field
from sqlmodel import col, select

from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.messages import Missing, NotAllowed, NotDone
from zestpail.store import Store
from zestpail.store.access_tables import ApiToken
from zestpail.store.columns import now
from zestpail.store.states import Scope

__all__ = ["Holder", "Scope", "TokenRow", "TokenTerms", "holder_of", "make_token", "revoke", "tokens"]
PREFIX = "pail_"


@dataclass(frozen=True)
class TokenRow:
    id: int
    name: str
    made_at: datetime
    used_at: datetime | None
    ends_at: datetime | None
    scopes: tuple[Scope, ...]
    lanes: tuple[str, ...]
    revoked: bool

    @property
    def ended(self) -> bool:
        return self.ends_at is not None and self.ends_at <= now()


class TokenTerms(BaseModel):
    """What a new token is good for."""

    name: str = ""
    """Which program it is for."""
    scopes: list[Scope] = []
    lanes: list[str] = []
    """Keys of lanes; empty for all."""
    days: int = Field(default=365, ge=0, le=3650)
    """After which it ends; 0 for never."""


SCOPE_WORDS = {
    Scope.SEND: "send files", Scope.READ: "read documents and how they stand",
    Scope.EXTRACT: "have files read by a document type", Scope.SET_UP: "import and publish document types",
}  # fmt: skip


def tokens(store: Store) -> list[TokenRow]:
    """All tokens, newest first."""
    with store.transaction() as session:
        found = session.exec(select(ApiToken).order_by(col(ApiToken.id).desc()))
        return [
            TokenRow(t.id or 0, t.name, t.made_at, t.used_at, t.ends_at, t.scopes, t.lanes, t.revoked_at is not None)
            for t in found
        ]


def make_token(store: Store, terms: TokenTerms, person_id: int) -> str:
    """A new token for a program. Raises NotDone where it has no name, nothing that it may do, or no such lane."""
    called = " ".join(terms.name.split())
    if not called or len(called) > 80:
        raise NotDone("Say which program the token is for, in at most 80 characters.")
    if not terms.scopes:
        raise NotDone("Say what the program may do with the token.")
    secret = PREFIX + secrets.token_urlsafe(32)
    ends_at = now() + timedelta(days=terms.days) if terms.days else None
    with store.transaction() as session:
        lanes = tuple(lane_of_key(session, key).key for key in terms.lanes)
        session.add(ApiToken(name=called, secret_hash=_hash(secret), person_id=person_id, ends_at=ends_at,
                             scopes=tuple(terms.scopes), lanes=lanes))  # fmt: skip
        told = {"message": called, "scopes": " ".join(terms.scopes), "lanes": " ".join(lanes) or "all"}
        note(session, "token_made", person_id=person_id, after=told)
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
    scopes: tuple[Scope, ...]
    lanes: tuple[str, ...]
    person_id: int
    """Who made the token: what the program does is done in that person's name."""

    def must_have(self, scope: Scope, lane: str = "") -> None:
        """Raises NotAllowed where the token is not for that, or not for that lane."""
        if scope not in self.scopes:
            raise NotAllowed(f"This token is not made to {SCOPE_WORDS[scope]}.")
        if lane and self.lanes and lane not in self.lanes:
            raise NotAllowed(f"This token is not for the lane {lane[:80]}.")


def holder_of(store: Store, secret: str) -> Holder | None:
    """The program that the token was made for; None if it is none, was revoked, or has ended."""
    with store.transaction() as session:
        token = session.exec(select(ApiToken).where(ApiToken.secret_hash == _hash(secret))).first()
        if token is None or token.revoked_at or (token.ends_at and token.ends_at <= now()):
            return None
        token.used_at = now()
        return Holder(token.id or 0, token.name, token.scopes, token.lanes, token.person_id or 0)


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
