"""Keys of outside systems: kept sealed, named by destinations, never shown again."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from zestpail.delivery import AllowedWeb, Refused, Web
from zestpail.desk.documents.audit import note
from zestpail.store import Store
from zestpail.store.access_tables import Secret
from zestpail.store.sealing import house_of, opened, seal, sealing_key


def keep_secret(store: Store, data: Path, name: str, text: str, person_id: int) -> None:
    """Keep a secret under a name, in place of the one that was there."""
    sealed = seal(sealing_key(data), text)
    with store.transaction() as session:
        session.merge(Secret(name=name, sealed=sealed))
        note(session, "secret_kept", person_id=person_id, after={"name": name})


def secret_of(store: Store, data: Path, name: str) -> str:
    """The secret of that name. Raises Refused where there is none, or it cannot be read."""
    with store.transaction() as session:
        kept = session.get(Secret, name)
        sealed = kept.sealed if kept else ""
    text = opened(sealing_key(data), sealed) if sealed else None
    if text is None:
        raise Refused("The key for it is not known here any more: enter it again.")
    return text


def web_of(store: Store, data: Path, allowed: Sequence[str]) -> Web:
    """What speaks HTTP for destinations, with the secrets that are kept."""
    return AllowedWeb(allowed, lambda name: secret_of(store, data, name), house_of(sealing_key(data)))
