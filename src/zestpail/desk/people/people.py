"""Who can sign in."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlmodel import Session, col, select

from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.people.guessing import may_try, turn, went_right, went_wrong
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.tables import Person

_hasher = PasswordHasher()


@dataclass(frozen=True)
class SignedIn:
    """The person at the keyboard."""

    id: int
    name: str
    session: int = 1
    """Number of the session; it ends when the person signs out anywhere, or gets another password."""


@dataclass(frozen=True)
class PersonRow:
    id: int
    login: str
    name: str
    disabled: bool


LEAST_PASSWORD = 8
"""Characters of a password that is set in the browser."""


def people(store: Store) -> list[PersonRow]:
    """Everybody, by name."""
    with store.transaction() as session:
        found = session.exec(select(Person).order_by(col(Person.name), col(Person.id)))
        return [PersonRow(one.id or 0, one.login, one.name, one.disabled_at is not None) for one in found]


def new_person(store: Store, login: str, name: str, password: str, by: int) -> None:
    """Somebody new who can sign in. Raises NotDone where the login is taken or something is lacking."""
    known, called = login.strip(), _called(name)
    if not known or len(known) > 60 or not known.isprintable() or known != "".join(known.split()):
        raise NotDone("A person needs a login of at most 60 characters, without blanks.")
    hashed = _hashed(password)
    with store.transaction() as session:
        if session.exec(select(Person).where(Person.login == known)).first():
            raise NotDone(f"Somebody has the login {known} already.")
        session.add(Person(login=known, name=called, password_hash=hashed))
        note(session, "person_added", person_id=by, after={"message": f"{called} ({known})"})


def rename(store: Store, person_id: int, name: str, by: int) -> None:
    """Give somebody another name. Raises Missing, NotDone."""
    called = _called(name)
    with store.transaction() as session:
        found = _of_id(session, person_id)
        note(session, "person_renamed", person_id=by, after={"message": f"{found.name} → {called}"})
        found.name = called


def set_password(store: Store, person_id: int, password: str, by: int) -> None:
    """Give somebody a new password. Raises Missing, NotDone."""
    hashed = _hashed(password)
    with store.transaction() as session:
        found = _of_id(session, person_id)
        found.password_hash, found.session = hashed, found.session + 1
        note(session, "person_password_set", person_id=by, after={"message": found.name})


def disable(store: Store, person_id: int, by: int, back: bool = False) -> None:
    """Let somebody not sign in any more, or again; whoever is signed in is signed out. Raises Missing, NotDone."""
    if person_id == by:
        raise NotDone("You cannot disable yourself; ask somebody else to.")
    with store.transaction() as session:
        found = _of_id(session, person_id)
        found.disabled_at, found.session = None if back else now(), found.session + 1
        note(session, "person_enabled" if back else "person_disabled", person_id=by, after={"message": found.name})


def _of_id(session: Session, person_id: int) -> Person:
    found = session.get(Person, person_id)
    if found is None:
        raise Missing("There is no such person.")
    return found


def _called(name: str) -> str:
    called = " ".join(name.split())
    if not called or len(called) > 80 or not called.isprintable():
        raise NotDone("A person needs a name of at most 80 characters.")
    return called


def _hashed(password: str) -> str:
    if len(password) < LEAST_PASSWORD:
        raise NotDone(f"A password needs {LEAST_PASSWORD} characters at least.")
    return _hasher.hash(password)


def add_person(store: Store, login: str, name: str, password: str) -> None:
    """Add somebody, or give somebody a new name and password."""
    with store.transaction() as session:
        person = session.exec(select(Person).where(Person.login == login)).first()
        person = person or Person(login=login, name=name, password_hash="")
        person.name, person.password_hash = name, _hasher.hash(password)
        session.add(person)


def sign_in(store: Store, login: str, password: str, address: str = "") -> SignedIn | None:
    """The person of that login and password, or None. Takes as long for an unknown login as for a wrong password.

    ``address`` is where it is entered. Raises TooOften after many wrong ones.
    """
    may_try(store, login, address)
    with store.transaction() as session:
        person = session.exec(select(Person).where(Person.login == login.strip())).first()
        known = person.password_hash if person else _nobody()
        found = SignedIn(person.id or 0, person.name, person.session) if person and person.disabled_at is None else None
    with turn():
        may_try(store, login, address)  # others may have tried meanwhile
        try:
            _hasher.verify(known, password)
        except (VerificationError, InvalidHashError):
            found = None
        if not found:
            went_wrong(store, login, address)
    if found:
        went_right(store, login)
    with store.transaction() as session:
        told = {"message": f"{login.strip()[:60]}{f' from {address}' if address else ''}"}
        note(session, "signed_in" if found else "sign_in_refused", person_id=found.id if found else None, after=told)
    return found


def sign_out(store: Store, person_id: int) -> None:
    """End all sessions of somebody."""
    with store.transaction() as session:
        _of_id(session, person_id).session += 1
        note(session, "signed_out", person_id=person_id)


def person(store: Store, person_id: int, number: int) -> SignedIn | None:
    """The person of that id, if that session of theirs is still open."""
    with store.transaction() as session:
        found = session.get(Person, person_id)
        still = found and found.disabled_at is None and found.session == number
        return SignedIn(found.id or 0, found.name, number) if found and still else None


def anybody(store: Store) -> bool:
    """Whether anybody can sign in at all."""
    with store.transaction() as session:
        return session.exec(select(Person.id)).first() is not None


@cache
def _nobody() -> str:
    return _hasher.hash("nobody has this password")
