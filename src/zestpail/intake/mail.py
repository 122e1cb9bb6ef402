"""A receiver of e-mail (SMTP, RFC 5321): each lane has an address whose local part is the lane's key.

A message is accepted only when it is kept for all of its lanes; otherwise the sender is told and tries again.
"""

from __future__ import annotations

import email.policy
from collections.abc import Callable
from email.parser import BytesHeaderParser

import structlog
from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

from zestpail.intake.arrived import Arrived, Keep, KeptBefore, NotKept

log = structlog.get_logger()
MOST_BYTES = 50_000_000


class _Receiver:
    def __init__(self, is_lane: Callable[[str], bool], keep: Keep) -> None:
        self._is_lane, self._keep = is_lane, keep

    async def handle_RCPT(
        self, _server: SMTP, _session: Session, envelope: Envelope, address: str, _options: list[str]
    ) -> str:
        if not self._is_lane(lane_in(address)):
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
            header = BytesHeaderParser(policy=email.policy.default).parsebytes(data)
            name = f"{header.get('subject') or 'e-mail'}.eml"
            self._keep(Arrived(lane, name, data, "e-mail", identity=str(header.get("message-id", "")).strip()))
        except KeptBefore:  # the sender did not hear that it was kept, and sent it again
            log.info("an e-mail came twice", lane=lane)


def lane_in(address: str) -> str:
    """The lane that an address names."""
    return address.rpartition("@")[0].lower()


def receiver(host: str, port: int, is_lane: Callable[[str], bool], keep: Keep) -> Controller:
    """A receiver that answers from its ``start()`` until its ``stop()``, in a thread of its own."""
    return Controller(_Receiver(is_lane, keep), hostname=host, port=port, data_size_limit=MOST_BYTES)
