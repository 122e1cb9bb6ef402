"""What the desk stands on: the store, and where deliveries go."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from zestpail.delivery import NOWHERE, Post, SmtpPost, Web
from zestpail.desk.documents.secrets import web_of
from zestpail.settings import Settings
from zestpail.store import Store, open_store


@dataclass(frozen=True)
class Desk:
    """Given to everything that uses the desk over some time."""

    store: Store
    delivered: Path
    arriving: Path = Path("arriving")
    """Where large files lie until they are whole."""
    scanner: str = ""
    """The address of the sheet-fed scanner, if there is one."""
    allowed: tuple[Path, ...] = ()
    """Folders besides ``delivered`` that lanes may deliver to."""
    data: Path = Path()
    """Where the key lies that secrets are sealed with."""
    web: Web = NOWHERE
    """What speaks to other machines that lanes deliver to."""
    mailbox: str = ""
    """The address of the mailbox that is looked at, if there is one."""
    post: Post | None = None
    """What sends e-mail; None where nothing does."""


def open_desk(settings: Settings) -> Desk:
    """The desk of these settings."""
    store = open_store(settings.database_url, settings.blob_address, settings.limits)
    web = web_of(store, settings.data, settings.allowed_addresses)
    return Desk(
        store, settings.delivered, settings.data / "arriving", settings.scanner, settings.allowed_folders,
        settings.data, web, settings.mailbox, SmtpPost(settings.mail_server, settings.mail_from),
    )  # fmt: skip
