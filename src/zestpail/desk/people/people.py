"""Who can sign in."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlmodel import select

from zestpail.store import Store
from zestpail.store.tables import Person

_hasher = PasswordHasher()


@dataclass(frozen=True)
class SignedIn:
    """The person at the keyboard."""

    id: int
    name: str


def add_person(store: Store, login: str, name: str, password: str) -> None:
    """Add somebody, or give somebody a new name and password."""
    with store.transaction() as session:
        person = session.exec(select(Person).where(Person.login == login)).first()
        person = person or Person(login=login, name=name, password_hash="")
        person.name, person.password_hash = name, _hasher.hash(password)
        session.add(person)


def sign_in(store: Store, login: str, password: str) -> SignedIn | None:
    """The person of that login and password, or None. Takes as long for an unknown login as for a wrong password."""
    with store.transaction() as session:
        person = session.exec(select(Person).where(Person.login == login.strip())).first()
        try:
            _hasher.verify(person.password_hash if person else _nobody(), password)
        except (VerificationError, InvalidHashError):
            return None
        return SignedIn(person.id or 0, person.name) if person else None


def person(store: Store, person_id: int) -> SignedIn | None:
    """The person of that id, if still there."""
    with store.transaction() as session:
        found = session.get(Person, person_id)
        return SignedIn(found.id or 0, found.name) if found else None


def anybody(store: Store) -> bool:
    """Whether anybody can sign in at all."""
    with store.transaction() as session:
        return session.exec(select(Person.id)).first() is not None


@cache
def _nobody() -> str:
    return _hasher.hash("nobody has this password")
