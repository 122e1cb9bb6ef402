"""Documents sent by e-mail, as attachments, through a server that takes mail (SMTP, RFC 5321)."""

from __future__ import annotations

import hashlib
import smtplib
from collections.abc import Callable
from email.errors import MessageError
from email.message import EmailMessage
from pathlib import PurePosixPath
from typing import ClassVar, Literal

from pydantic import Field

from zestpail.core.writing.file_names import compose, of_version
from zestpail.core.writing.renditions import Rendition, media_type, told_apart, usual_suffix
from zestpail.delivery.destination import (
    Asked,
    Destination,
    Later,
    Outgoing,
    Outlets,
    Parcel,
    Plan,
    Receipt,
    Refused,
    Shown,
)
from zestpail.delivery.filing import PlannedFile, of_kind
from zestpail.delivery.mapping import JoinedSource

WAIT = 60.0
"""Seconds."""


class MailPlan(Plan):
    """The document for one address."""

    destination: Literal["mail"] = "mail"
    to: str
    name: str
    subject: str = ""
    text: str = ""
    files: tuple[PlannedFile, ...] = ()
    """What is attached; without any the searchable PDF."""

    @property
    def attached(self) -> tuple[PlannedFile, ...]:
        """What is attached."""
        return self.files or (PlannedFile(path=self.name, blob=self.pdf),)

    @property
    def blobs(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys((self.pdf, *(one.blob for one in self.files))))


class MailDestination(Destination):
    """One address for all documents; or else the one that a document's sheet asks to send it to, if it is allowed."""

    title: ClassVar[str] = "by e-mail"
    kind: ClassVar[str] = "E-mail"
    about: ClassVar[str] = "documents as attachments of e-mails"
    asks: ClassVar[tuple[Asked, ...]] = (
        Asked("to", "To", "books@example.org"),
        Asked("subject", "Subject, with values in braces", "Invoice {invoice_number}", needed=False),
        Asked("text", "Text, with values in braces", "From {seller_name}.", needed=False, long=True),
    )
    destination: Literal["mail"] = "mail"
    to: str = Field(default="", max_length=200)
    """To whom all documents go; "" for those to whom their sheets ask to send them."""
    subject: str = Field(default="", max_length=200)
    """With values in braces; "" for the document's name."""
    text: str = Field(default="", max_length=2000)
    """With values in braces."""
    files: tuple[Rendition, ...] = Field(default=("searchable_pdf",), min_length=1)
    """In which forms documents are attached."""
    allowed: tuple[str, ...] = ()
    """Addresses that sheets may name, and domains as ``@example.org``."""

    @property
    def shown(self) -> str:
        return f"by e-mail to {self.to}" if self.to else self.title

    @property
    def wants(self) -> tuple[Rendition, ...]:
        return self.files

    def allows(self, address: str) -> bool:
        """Whether a sheet may have documents sent there."""
        wanted = address.strip().lower()
        return wanted in self.allowed or f"@{wanted.rpartition('@')[2]}" in self.allowed

    def shown_of(self, document: Outgoing) -> Shown:
        name = compose(document.naming, document.named, document.counter, "pdf").name.removesuffix(".pdf")
        suffixes = told_apart({form: usual_suffix(form) for form in self.files}).values()
        return Shown(self.shown, tuple(name + suffix for suffix in suffixes)) if self.to else Shown(self.shown)

    def plan(
        self,
        document: Outgoing,
        is_taken: Callable[[str, PurePosixPath], bool],  # noqa: ARG002 - an attachment may have any name
        outlets: Outlets,  # noqa: ARG002
    ) -> MailPlan | None:
        """Nothing where it has no address, and no sheet asked for one that is allowed."""
        to = self.to or (document.mail if document.mail and self.allows(document.mail) else "")
        if not to:
            return None
        drawn = {form: document.files[form] for form in self.files if form in document.files}
        suffixes = told_apart({form: one.suffix for form, one in drawn.items()})
        path = of_version(compose(document.naming, document.named, document.counter, "pdf"), document.version)
        stem = path.name.removesuffix(".pdf")
        return MailPlan(
            reference=document.reference, pdf=document.pdf, version=document.version, to=to, name=path.name,
            subject=" ".join(self._filled(self.subject, document).split()), text=self._filled(self.text, document),
            files=tuple(PlannedFile(path=stem + suffix, blob=drawn[form].blob) for form, suffix in suffixes.items()),
        )  # fmt: skip

    def _filled(self, pattern: str, document: Outgoing) -> str:
        return JoinedSource(pattern=pattern).text({**document.named, **document.about}) if pattern else ""

    def send(self, plan: Plan, outlets: Outlets) -> Receipt:
        """Its identity stays the same however often it is sent."""
        there = of_kind(plan, MailPlan)
        files = [(one.path, outlets.kept(one.blob)) for one in there.attached]
        identity = hashlib.sha256(f"{there.reference} {there.pdf}".encode()).hexdigest()[:32]
        text = f"{there.text or f'{there.name}, as it was filed.'}\n"
        if there.version > 1:
            text += f"It is version {there.version} and replaces what was sent before.\n"
        subject = there.subject or PurePosixPath(there.name).stem
        outlets.post.send(Parcel(there.to, subject, text, tuple(files), f"{there.reference}.{identity}"))
        first = files[0][1]
        return Receipt(
            reference=there.reference, version=there.version, bytes=len(first),
            sha256=hashlib.sha256(first).hexdigest(), mail=there.to,
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
            for name, data in parcel.files:
                main, _, sub = media_type(name).partition("/")
                message.add_attachment(data, maintype=main, subtype=sub, filename=name)
            with smtplib.SMTP(host, int(port or 25), timeout=WAIT) as server:
                server.send_message(message)
        except (smtplib.SMTPException, OSError, MessageError, ValueError) as problem:
            raise _refusal(problem, f"It could not be sent to {parcel.to}: {_message(problem)}.") from problem


def _refusal(problem: Exception, message: str) -> Refused:
    """One that is over in a while where the server does not answer, or says so (its 4xx, RFC 5321, 4.2.1)."""
    code = problem.smtp_code if isinstance(problem, smtplib.SMTPResponseException) else 0
    silent = isinstance(problem, smtplib.SMTPServerDisconnected) or not isinstance(problem, smtplib.SMTPException)
    passing = 400 <= code < 500 or (silent and isinstance(problem, OSError))
    return Later(message) if passing else Refused(message)


def _message(problem: Exception) -> str:
    if isinstance(problem, smtplib.SMTPRecipientsRefused):
        code, words = next(iter(problem.recipients.values()))
        return f"the server answers {code} {words.decode('utf-8', 'replace')}"
    if isinstance(problem, smtplib.SMTPResponseException):
        answer = problem.smtp_error
        message = answer.decode("utf-8", "replace") if isinstance(answer, bytes) else answer
        return f"the server answers {problem.smtp_code} {message}"
    return "the server does not answer" if isinstance(problem, OSError) else "the address or subject is not one"
