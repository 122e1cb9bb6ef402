"""Deleting files that nothing needs any more.

What is let go is written down in the transaction that ends its use; it is deleted afterwards, and again each minute, so
that nothing stays behind of what was broken off.
"""

from __future__ import annotations

from collections.abc import Iterable

from sqlmodel import col, delete, select

from zestpail.store import Store
from zestpail.store.queries.blob_use import let_go, used_blobs
from zestpail.store.queries.erasure import delete_other_copies, delete_texts
from zestpail.store.retention_tables import GoneFile

MOMENT = 10.0
"""Seconds for which a file that was put there is kept: what it is put for may not be written down yet."""
AT_ONCE = 200


def forget(store: Store, names: Iterable[str]) -> None:
    """Let these files go, and delete those that nothing needs."""
    with store.transaction() as session:
        let_go(session, names)
    delete_gone(store)


def delete_gone(store: Store) -> bool:
    """Delete all files that were let go and nothing refers to; returns whether some of them have to wait a moment.

    Of what was erased, other copies go too: trials, and samples to sort by.
    """
    after, waits = "", False
    while True:
        with store.transaction() as session:
            chosen = select(GoneFile).where(col(GoneFile.name) > after).order_by(col(GoneFile.name)).limit(AT_ONCE)
            gone = session.exec(chosen).all()
            if not gone:
                return waits
            after = gone[-1].name
            delete_other_copies(session, {one.name for one in gone if one.erased})
            names = {one.name for one in gone}
            unused = names - used_blobs(session, names)
            new = {name for name in unused if store.blobs.age(name) < MOMENT}
            delete_texts(session, unused)
            for name in unused - new:
                store.blobs.forget(name)
            session.execute(delete(GoneFile).where(col(GoneFile.name).in_(names - new)))
            waits = waits or bool(new)
