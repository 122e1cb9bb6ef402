"""Who can sign in."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlalchemy import text
from sqlmodel import Session, col, select

from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.signed_in import EVERY_ROLE, SignedIn
from zestpail.desk.people.guessing import may_try, turn, went_right, went_wrong
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.queries.access import closed_lanes
from zestpail.store.states import Role
from zestpail.store.tables import Person

_hasher = PasswordHasher()


@dataclass(frozen=True)
class PersonRow:
    id: int
    login: str
    name: str
    disabled: bool
    roles: tuple[Role, ...]


LEAST_PASSWORD = 8
"""Characters of a password that is set in the browser."""


def people(store: Store) -> list[PersonRow]:
    """Everybody, by name."""
    with store.transaction() as session:
        found = session.exec(select(Person).order_by(col(Person.name), col(Person.id)))
        return [PersonRow(one.id or 0, one.login, one.name, one.disabled_at is not None, one.roles) for one in found]


def new_person(
    store: Store, login: str, name: str, password: str, by: int | None, roles: Collection[Role] = (Role.OPERATOR,)
) -> None:
    """Somebody new who can sign in. Raises NotDone where the login is taken or something is lacking."""
    known, called = login.strip(), _called(name)
    if not known or len(known) > 60 or not known.isprintable() or known != "".join(known.split()):
        raise NotDone("A person needs a login of at most 60 characters, without blanks.")
    hashed = _hashed(password)
    with store.transaction() as session:
        if session.exec(select(Person).where(Person.login == known)).first():
            raise NotDone(f"Somebody has the login {known} already.")
        given = _in_order(roles)
        session.add(Person(login=known, name=called, password_hash=hashed, roles=given))
        told = {"message": f"{called} ({known})", "roles": ", ".join(given)}
        note(session, "person_added", person_id=by, after=told)


def first_administrator(store: Store, login: str, name: str, password: str) -> None:
    """The first person of all, who may do everything. Raises NotDone where there is somebody already."""
    with store.together(), store.transaction() as session:
        session.connection().execute(text("LOCK TABLE person IN EXCLUSIVE MODE"))
        if session.exec(select(Person.id)).first() is not None:
            raise NotDone("Somebody can sign in already; ask an administrator.")
        new_person(store, login, name, password, None, EVERY_ROLE)


def set_roles(store: Store, person_id: int, roles: Collection[Role], by: int) -> None:
    """What somebody may do from now on. Raises Missing, NotDone."""
    given = _in_order(roles)
    with store.transaction() as session:
        found = _of_id(session, person_id)
        if Role.ADMINISTRATOR not in given:
            _others_administer(session, person_id)
        told = {"message": f"{found.name}: {', '.join(found.roles)} → {', '.join(given)}"}
        note(session, "person_roles_set", person_id=by, after=told)
        found.roles = given


def _in_order(roles: Collection[Role]) -> tuple[Role, ...]:
    if not roles:
        raise NotDone("A person needs one role at least. Nothing was changed.")
    return tuple(role for role in Role if role in roles)


def _others_administer(session: Session, person_id: int) -> None:
    """Raises NotDone where nobody else is left who may see to people."""
    can_sign_in = select(Person).where(Person.id != person_id, col(Person.disabled_at).is_(None))
    others = session.exec(can_sign_in.with_for_update())
    if not any(Role.ADMINISTRATOR in one.roles for one in others):
        raise NotDone("Somebody must remain who is an administrator. Nothing was changed.")


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
        if not back:
            _others_administer(session, person_id)
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


def own_password(store: Store, person_id: int, before: str, password: str) -> None:
    """Somebody's own new password, who knows the one before. Raises NotDone."""
    with store.transaction() as session:
        login = _of_id(session, person_id).login
    if not sign_in(store, login, before):
        raise NotDone("That is not your password. Nothing was changed.")
    set_password(store, person_id, password, person_id)


def add_person(store: Store, login: str, name: str, password: str, roles: Collection[Role] | None = EVERY_ROLE) -> None:
    """Add somebody, or give somebody a new name and password; without ``roles`` a new one is an operator."""
    with store.transaction() as session:
        person = session.exec(select(Person).where(Person.login == login)).first()
        person = person or Person(login=login, name=name, password_hash="", roles=(Role.OPERATOR,))
        person.name, person.password_hash = name, _hasher.hash(password)
        person.roles = _in_order(roles) if roles else person.roles
        session.add(person)


def sign_in(store: Store, login: str, password: str, address: str = "") -> SignedIn | None:
    """The person of that login and password, or None. Takes as long for an unknown login as for a wrong password.

    ``address`` is where it is entered. Raises TooOften after many wrong ones.
    """
    may_try(store, login, address)
    with store.transaction() as session:
        person = session.exec(select(Person).where(Person.login == login.strip())).first()
        known = person.password_hash if person else _nobody()
        found = _signed_in(session, person) if person and person.disabled_at is None else None
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
        return _signed_in(session, found) if found and still else None


def _signed_in(session: Session, person: Person) -> SignedIn:
    number = person.id or 0
    return SignedIn(number, person.name, person.session, person.roles, closed_lanes(session, number))


def anybody(store: Store) -> bool:
    """Whether anybody can sign in at all."""
    with store.transaction() as session:
        return session.exec(select(Person.id)).first() is not None


@cache
def _nobody() -> str:
    return _hasher.hash("nobody has this password")
