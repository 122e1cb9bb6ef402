"""A receiver of e-mail (SMTP, RFC 5321): each lane has an address whose local part is the lane's key.

A message is accepted only when it is kept for all of its lanes; otherwise the sender is told and tries again.
"""

from __future__ import annotations

import email.policy
import hashlib
import re
from collections.abc import Callable
from email.message import Message
from email.parser import BytesHeaderParser
from typing import Any

import structlog
from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

from zestpail.core.reading.mail_headers import header
from zestpail.intake.arrived import Arrived, Keep, KeptBefore, NotKept

log = structlog.get_logger()
MOST_BYTES = 50_000_000
MOST_RECIPIENTS, MOST_AT_ONCE = 50, 40
QUIET = 60
"""Seconds in which somebody who is connected must say something."""
open_now: set[SMTP] = set()
"""Who is connected."""


class _Receiver:
    def __init__(self, is_lane: Callable[[str], bool], keep: Keep) -> None:
        self._is_lane, self._keep = is_lane, keep

    async def handle_RCPT(
        self, _server: SMTP, _session: Session, envelope: Envelope, address: str, _options: list[str]
    ) -> str:
        if len(envelope.rcpt_tos) >= MOST_RECIPIENTS:
            return "452 So many recipients are not taken at once"
        try:
            known = self._is_lane(lane_in(address))
        except Exception as problem:  # whatever it is, the sender must keep the message
            log.error("it cannot be told whether there is such a lane", problem=str(problem))
            return "451 It cannot be told now whether there is such a lane; try again later"
        if not known:
            return "550 There is no lane of that address"
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, _server: SMTP, _session: Session, envelope: Envelope) -> str:
        data = envelope.original_content or b""
        try:
            for lane in dict.fromkeys(map(lane_in, envelope.rcpt_tos)):
                self._keep_for(lane, data)
        except NotKept as refusal:
            return f"554 {refusal}".replace("\n", " ")[:400]
        except Exception as problem:  # whatever it is, the sender must keep the message
            log.error("an e-mail could not be kept", problem=str(problem))
            return "451 It could not be kept now; try again later"
        return "250 Kept"

    def _keep_for(self, lane: str, data: bytes) -> None:
        try:
            head = BytesHeaderParser(policy=email.policy.default).parsebytes(data)
            name = f"{header(head, 'subject') or 'e-mail'}.eml"
            self._keep(Arrived(lane, name, data, "e-mail", identity=identity_of(head, data)))
        except KeptBefore:  # the sender did not hear that it was kept, and sent it again
            log.info("an e-mail came twice", lane=lane)


def identity_of(head: Message, data: bytes) -> str:
    """What a message is known by if it comes again: its Message-ID and what it says, whatever way it took.

    An id that was used for another text before, by mistake or on purpose, is another message.
    """
    number = header(head, "message-id")
    body = re.split(rb"\r?\n\r?\n", data, maxsplit=1)[-1].replace(b"\r\n", b"\n").rstrip()
    return f"{number} {hashlib.sha256(body).hexdigest()[:32]}" if number else ""


def lane_in(address: str) -> str:
    """The lane that an address names."""
    return address.rpartition("@")[0].lower()


def receiver(host: str, port: int, is_lane: Callable[[str], bool], keep: Keep) -> Controller:
    """A receiver that answers from its ``start()`` until its ``stop()``, in a thread of its own."""
    return _Door(_Receiver(is_lane, keep), hostname=host, port=port, data_size_limit=MOST_BYTES, timeout=QUIET)


class _Door(Controller):
    """Lets so many in at once, and those out that say nothing for a while."""

    def factory(self) -> SMTP:
        return _Session(self.handler, **self.SMTP_kwargs)


class _Session(SMTP):
    def connection_made(self, transport: Any) -> None:
        if len(open_now) >= MOST_AT_ONCE:
            transport.write(b"421 Too many are connected; try again later\r\n")
            transport.close()
            return
        open_now.add(self)
        super().connection_made(transport)

    def connection_lost(self, error: Exception | None) -> None:
        if self in open_now:
            open_now.discard(self)
            super().connection_lost(error)
