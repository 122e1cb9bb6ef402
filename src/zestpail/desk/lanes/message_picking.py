"""Trying a lane on a message that is picked out of the mailbox, or out of the e-mails that came lately."""

from __future__ import annotations

import email.policy
from dataclasses import dataclass
from email.parser import BytesHeaderParser

from sqlmodel import Session, col, select

from zestpail.core.reading.mail_headers import header
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.seeing import see
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.lanes.trials import begin_trial
from zestpail.intake.imap import NoMailbox, fetched, listed, mailbox_at
from zestpail.store import Store
from zestpail.store.queries.access import Closed, open_to_see
from zestpail.store.tables import ArrivedFile

SHOWN = 30
CAME = "came"
"""Stands for the folder of e-mails that came and are kept here."""


@dataclass(frozen=True)
class MessageRow:
    """A message that can be picked."""

    folder: str
    number: int
    sender: str
    subject: str
    date: str


@dataclass(frozen=True)
class MessagesView:
    """What can be picked, and what is wrong with the mailbox."""

    mailbox: list[MessageRow]
    came: list[MessageRow]
    problem: str


def messages(store: Store, mailbox: str, closed: Closed = ()) -> MessagesView:
    """What lies in the mailbox, if there is one, and the e-mails that came, newest first."""
    found, problem = [], ""
    if mailbox:
        try:
            there = listed(mailbox_at(mailbox), SHOWN)
            found = [MessageRow(one.folder, one.number, one.sender, one.subject, one.date) for one in there]
        except NoMailbox as trouble:
            problem = str(trouble)
    with store.transaction() as session:
        came = [_row(store, file) for file in _came(session, closed)]
    return MessagesView(found, came, problem)


def try_message(store: Store, mailbox: str, lane_key: str, folder: str, number: int, person: SignedIn) -> int:
    """Try the lane on that message; it stays where it is. Raises NotDone, Missing."""
    if folder == CAME:
        see(store, "file_id", number, person.closed)
        with store.transaction() as session:
            file = session.get(ArrivedFile, number)
            if file is None or not file.name.endswith(".eml"):
                raise Missing("There is no such e-mail.")
            name, data = file.name, store.blobs.get(file.blob)
    else:
        try:
            name, data = "message.eml", fetched(mailbox_at(mailbox), folder, number)
        except NoMailbox as trouble:
            raise NotDone(f"{trouble} Nothing was tried.") from trouble
        name = f"{_head(data)[1] or 'message'}.eml"
    return begin_trial(store, lane_key, name, data, person.id)


def _came(session: Session, closed: Closed) -> list[ArrivedFile]:
    wanted = select(ArrivedFile).where(col(ArrivedFile.name).endswith(".eml"), col(ArrivedFile.of_id).is_(None))
    wanted = wanted.where(open_to_see(col(ArrivedFile.batch_id), closed))
    return list(session.exec(wanted.order_by(col(ArrivedFile.id).desc()).limit(SHOWN)))


def _row(store: Store, file: ArrivedFile) -> MessageRow:
    sender, subject, date = _head(store.blobs.get(file.blob))
    return MessageRow(CAME, file.id or 0, sender, subject or file.name, date)


def _head(data: bytes) -> tuple[str, str, str]:
    head = BytesHeaderParser(policy=email.policy.default).parsebytes(data[:100_000])
    sender, subject, date = (header(head, name) for name in ("from", "subject", "date"))
    return sender, subject, date
