"""A call to another system as a destination: what was captured, as JSON, signed so that it is known who sends it.

Signed as Standard Webhooks 1.0 has it: ``webhook-id``, ``webhook-timestamp`` and ``webhook-signature``, an HMAC of both
and the body by SHA-256. A call that is made again has the same id.
"""

from __future__ import annotations

import base64
import contextlib
import hashlib
import hmac
import json
from collections.abc import Callable, Mapping
from pathlib import PurePosixPath
from typing import ClassVar, Literal, Self

from pydantic import Field

from zestpail.core.writing.value_files import values_json
from zestpail.delivery.destination import SECRET, Asked, Destination, Outgoing, Outlets, Plan, Receipt, Refused, Shown
from zestpail.delivery.filing import of_kind
from zestpail.delivery.values import document_values

ID, TIME, SIGNATURE = "webhook-id", "webhook-timestamp", "webhook-signature"
MARK = "whsec_"
"""How secrets of the standard begin."""
MOST_APART = 300
"""Seconds between the time of a call and now."""


class HookPlan(Plan):
    """The call, as it will be made."""

    destination: Literal["hook"] = "hook"
    address: str
    secret: str
    body: str
    identity: str


class HookDestination(Destination):
    """An address that is called with each document."""

    title: ClassVar[str] = "as a call to another system"
    kind: ClassVar[str] = "Call to another system"
    about: ClassVar[str] = "tells another system of each document, with its values (webhook)"
    asks: ClassVar[tuple[Asked, ...]] = (
        Asked("address", "Address that is called", "https://flows.example.org/delivered"),
        Asked(SECRET, "Secret that calls are signed with", needed=False),
    )
    destination: Literal["hook"] = "hook"
    address: str = Field(min_length=1, max_length=500)
    secret: str = ""
    """Name of the secret that calls are signed with; "" for none."""

    @property
    def shown(self) -> str:
        return f"as a call to {self.address}"

    def met(self, outlets: Outlets) -> Self:
        outlets.web.permit(self.address)
        return self

    def shown_of(self, document: Outgoing) -> Shown:  # noqa: ARG002 - all of its values
        return Shown(self.shown)

    def plan(
        self,
        document: Outgoing,
        is_taken: Callable[[str, PurePosixPath], bool],  # noqa: ARG002 - calls have no names
        outlets: Outlets,
    ) -> HookPlan:
        values = document_values(
            document.reference, document.doc_type, document.values, document.rows, document.given
        )  # fmt: skip
        told = {"type": "document.delivered", "lane": document.lane, "batch": document.batch,
                "version": document.version, "data": json.loads(values_json(values))}  # fmt: skip
        return HookPlan(
            reference=document.reference, pdf=document.pdf, version=document.version, address=self.address,
            secret=self.secret, body=json.dumps(told, ensure_ascii=False, sort_keys=True),
            identity=f"{outlets.web.house}-{self.id}-{document.reference}-{document.version}",
        )  # fmt: skip

    def send(self, plan: Plan, outlets: Outlets) -> Receipt:
        there = of_kind(plan, HookPlan)
        data = there.body.encode()
        head = signed(data, there.identity, outlets.now(), outlets.web.secret(there.secret))
        answer = outlets.web.call("POST", there.address, "", data, head)
        if not 200 <= answer.status < 300:
            raise Refused(f"{there.address} answers {answer.status}.")
        return Receipt(
            reference=there.reference, version=there.version, bytes=len(data), sha256=hashlib.sha256(data).hexdigest(),
            at=there.address, record=there.identity,
        )  # fmt: skip


def signed(body: bytes, identity: str, at: int, secret: str) -> dict[str, str]:
    """The header fields of a call; ``at`` in seconds of Unix time."""
    head = {ID: identity, TIME: str(at)}
    return {**head, SIGNATURE: f"v1,{_seal(body, identity, str(at), secret)}"} if secret else head


def is_signed(body: bytes, head: Mapping[str, str], now: int, secret: str) -> bool:
    """Whether a call was signed with that secret, not long ago; ``head`` by names in small letters."""
    identity, at = head.get(ID, ""), head.get(TIME, "")
    if not (secret and identity and at.isdecimal() and abs(int(at) - now) <= MOST_APART):
        return False
    wanted = _seal(body, identity, at, secret)
    shown = [one.partition(",")[2] for one in head.get(SIGNATURE, "").split() if one.startswith("v1,")]
    return any(hmac.compare_digest(one.encode(), wanted.encode()) for one in shown)


def _seal(body: bytes, identity: str, at: str, secret: str) -> str:
    message = f"{identity}.{at}.".encode() + body
    return base64.b64encode(hmac.new(_key(secret), message, hashlib.sha256).digest()).decode()


def _key(secret: str) -> bytes:
    """The bytes that are signed with: what follows the standard's mark is Base64, anything else is itself."""
    with contextlib.suppress(ValueError):
        if secret.startswith(MARK):
            return base64.b64decode(secret.removeprefix(MARK), validate=True)
    return secret.encode()
