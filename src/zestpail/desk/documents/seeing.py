"""Who may see what lies in which lane."""

from __future__ import annotations

from zestpail.desk.documents.messages import Missing
from zestpail.store import Store
from zestpail.store.queries import access
from zestpail.store.queries.access import Closed


def see_lane(store: Store, key: str, closed: Closed) -> None:
    """Raises Missing where there is no such lane, or it is limited to other people."""
    with store.transaction() as session:
        number = access.lane_id_of(session, key)
        if number is None or number in closed:
            raise Missing("There is no such lane, or it is limited to other people.")


def see(store: Store, what: str, number: int, closed: Closed) -> None:
    """Raises Missing where a batch, document, page, file or scan lies in a lane that is limited to other people.

    ``what`` is as the place in an address is called: ``batch_id``, ``document_id`` and so on.
    """
    with store.transaction() as session:
        if access.lane_of_what(session, what, number) in closed:
            raise Missing("There is no such page, or it is of a lane that is limited to other people.")


def is_of_sample(store: Store, page_id: int) -> bool:
    """Whether a page is one of a type's samples."""
    with store.transaction() as session:
        return access.is_of_sample(session, page_id)
