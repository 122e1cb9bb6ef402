"""The ways out of the house, put together from what this installation has."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path

from zestpail.delivery import NOWHERE, Outlets, Post, SmtpPost, Web, folder_files
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.intake.arrivals import arrive_once
from zestpail.store import Store
from zestpail.store.columns import now


def outlets_of(
    store: Store, root: Path, post: Post | None = None, allowed: Sequence[Path] = (), web: Web | None = None
) -> Outlets:
    """Folders are under ``root``, or where the administrator allows it; other machines are spoken to by ``web``."""

    def hand_on(lane: str, name: str, data: bytes, channel: str, identity: str) -> int:
        return arrive_once(store, lane, name, data, channel, identity).batch_id

    return Outlets(
        folder=partial(folder_files, root, allowed), post=post or SmtpPost("", ""), web=web or NOWHERE,
        hand_on=hand_on, kept=store.blobs.get, now=lambda: int(now().timestamp()),
    )  # fmt: skip


def outlets_at(desk: Desk) -> Outlets:
    """The ways out of the installation that a desk stands on."""
    return outlets_of(desk.store, desk.delivered, desk.post, desk.allowed, desk.web)
