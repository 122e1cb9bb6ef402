"""The person at the keyboard, and what that person may do."""

from __future__ import annotations

from dataclasses import dataclass

from zestpail.desk.documents.messages import NotAllowed
from zestpail.store.queries.access import Closed
from zestpail.store.states import Role

__all__ = ["EVERY_ROLE", "MAY", "NAMES", "Role", "SignedIn", "must_be"]
MAY = {
    Role.OPERATOR: "brings files in, reviews, works on batches",
    Role.AUTHOR: "sets up document types and lanes, and tries them",
    Role.ADMINISTRATOR: "sees to people, tokens and destinations",
}
"""What somebody of each role does, as it is said in the interface."""
NAMES = {Role.OPERATOR: "operators", Role.AUTHOR: "authors", Role.ADMINISTRATOR: "administrators"}
EVERY_ROLE = tuple(Role)


@dataclass(frozen=True)
class SignedIn:
    """The person at the keyboard."""

    id: int
    name: str
    session: int = 1
    """Number of the session; it ends when the person signs out anywhere, or gets another password."""
    roles: tuple[Role, ...] = EVERY_ROLE
    closed: Closed = frozenset()
    """Lanes that are limited to other people."""

    @property
    def operator(self) -> bool:
        return Role.OPERATOR in self.roles

    @property
    def author(self) -> bool:
        return Role.AUTHOR in self.roles

    @property
    def administrator(self) -> bool:
        return Role.ADMINISTRATOR in self.roles


def must_be(person: SignedIn, *roles: Role) -> None:
    """Raises NotAllowed where the person has none of the roles."""
    if not set(roles) & set(person.roles):
        who = " and ".join(NAMES[role] for role in roles)
        raise NotAllowed(f"Only {who} may do this. An administrator can give you that role.")
