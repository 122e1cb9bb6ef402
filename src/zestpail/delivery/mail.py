"""Documents sent by e-mail, as attachments, through a server that takes mail (SMTP, RFC 5321)."""

from __future__ import annotations

import smtplib
from dataclasses import dataclass
from email.errors import MessageError
from email.message import EmailMessage
from pathlib import PurePosixPath
from typing import Protocol

from zestpail.delivery.destination import Refused

WAIT = 60.0
"""Seconds."""


@dataclass(frozen=True)
class Parcel:
    """One document for one address."""

    to: str
    subject: str
    text: str
    name: PurePosixPath
    pdf: bytes
    identity: str
    """The same whenever it is sent again, so that the receiver can tell (Message-ID, RFC 5322)."""


class Post(Protocol):
    def send(self, parcel: Parcel) -> None:
        """Raises Refused with a sentence."""


class SmtpPost:
    """A mail server at ``host:port``; mail comes from ``sender``."""

    def __init__(self, server: str, sender: str) -> None:
        self._server, self._sender = server, sender

    def send(self, parcel: Parcel) -> None:
        host, _, port = self._server.partition(":")
        if not host:
            raise Refused(f"It is to be sent to {parcel.to}, but no server for outgoing e-mail is set up.")
        message = EmailMessage()
        try:
            message["From"], message["To"], message["Subject"] = self._sender, parcel.to, parcel.subject
            message["Message-ID"] = f"<{parcel.identity}@zestpail>"
            message.set_content(parcel.text)
            message.add_attachment(parcel.pdf, maintype="application", subtype="pdf", filename=parcel.name.name)
            with smtplib.SMTP(host, int(port or 25), timeout=WAIT) as server:
                server.send_message(message)
        except (smtplib.SMTPException, OSError, MessageError, ValueError) as problem:
            raise Refused(f"It could not be sent to {parcel.to}: {_said(problem)}.") from problem


def _said(problem: Exception) -> str:
    if isinstance(problem, smtplib.SMTPRecipientsRefused):
        code, words = next(iter(problem.recipients.values()))
        return f"the server answers {code} {words.decode('utf-8', 'replace')}"
    if isinstance(problem, smtplib.SMTPResponseException):
        answer = problem.smtp_error
        said = answer.decode("utf-8", "replace") if isinstance(answer, bytes) else answer
        return f"the server answers {problem.smtp_code} {said}"
    return "the server does not answer" if isinstance(problem, OSError) else "the address or subject is not one"
