"""Documents sent by e-mail, as attachments, through a server that takes mail (SMTP, RFC 5321)."""

from __future__ import annotations

import hashlib
import smtplib
from collections.abc import Callable
from email.errors import MessageError
from email.message import EmailMessage
from pathlib import PurePosixPath
from typing import ClassVar, Literal

from zestpail.core.writing.file_names import compose, of_version
from zestpail.delivery.destination import Destination, Outgoing, Outlets, Parcel, Plan, Receipt, Refused

WAIT = 60.0
"""Seconds."""


class MailPlan(Plan):
    """The document for one address."""

    destination: Literal["mail"] = "mail"
    to: str
    name: str


class MailDestination(Destination):
    """The address that a document's sheet asks to send it to, if it is one of those that are allowed."""

    title: ClassVar[str] = "by e-mail"
    destination: Literal["mail"] = "mail"
    allowed: tuple[str, ...] = ()
    """Addresses, and domains as ``@example.org``."""

    def allows(self, address: str) -> bool:
        """Whether documents may be sent there."""
        wanted = address.strip().lower()
        return wanted in self.allowed or f"@{wanted.rpartition('@')[2]}" in self.allowed

    def plan(
        self,
        document: Outgoing,
        is_taken: Callable[[str, PurePosixPath], bool],  # noqa: ARG002 - an attachment may have any name
        outlets: Outlets,  # noqa: ARG002
    ) -> MailPlan | None:
        """Nothing where no sheet asked for it, or the address is not allowed."""
        if not document.mail or not self.allows(document.mail):
            return None
        name = of_version(compose(document.naming, document.named, document.counter, "pdf"), document.version).name
        return MailPlan(
            reference=document.reference, pdf=document.pdf, version=document.version, to=document.mail, name=name
        )

    def send(self, plan: Plan, pdf: bytes, outlets: Outlets) -> Receipt:
        """Its identity stays the same however often it is sent."""
        if not isinstance(plan, MailPlan):
            raise Refused("This was planned for another kind of destination.")
        path = PurePosixPath(plan.name)
        identity = hashlib.sha256(f"{plan.reference} {plan.pdf}".encode()).hexdigest()[:32]
        text = f"{path.name}, as it was filed.\n"
        if plan.version > 1:
            text += f"It is version {plan.version} and replaces what was sent before.\n"
        outlets.post.send(Parcel(plan.to, path.stem, text, path, pdf, f"{plan.reference}.{identity}"))
        return Receipt(
            reference=plan.reference, version=plan.version, bytes=len(pdf), sha256=hashlib.sha256(pdf).hexdigest(),
            mail=plan.to,
        )  # fmt: skip


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
            raise Refused(f"It could not be sent to {parcel.to}: {_message(problem)}.") from problem


def _message(problem: Exception) -> str:
    if isinstance(problem, smtplib.SMTPRecipientsRefused):
        code, words = next(iter(problem.recipients.values()))
        return f"the server answers {code} {words.decode('utf-8', 'replace')}"
    if isinstance(problem, smtplib.SMTPResponseException):
        answer = problem.smtp_error
        message = answer.decode("utf-8", "replace") if isinstance(answer, bytes) else answer
        return f"the server answers {problem.smtp_code} {message}"
    return "the server does not answer" if isinstance(problem, OSError) else "the address or subject is not one"
