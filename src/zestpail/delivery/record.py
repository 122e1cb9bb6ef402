"""A record over HTTP as a destination: one JSON object a document, with the columns that the other side describes."""

from __future__ import annotations

import hashlib
import json
import re
from collections.abc import Callable
from pathlib import PurePosixPath
from typing import Any, ClassVar, Literal
from urllib.parse import quote, urlencode, urljoin

from pydantic import Field

from zestpail.delivery.columns import Columns, columns_of
from zestpail.delivery.destination import SECRET, Asked, Outgoing, Outlets, Plan, Receipt, Refused, Trial, Web
from zestpail.delivery.filing import of_kind
from zestpail.delivery.mapped import MappedDestination

KEY = "Idempotency-Key"
"""What a record that is sent again is known by (IETF draft-ietf-httpapi-idempotency-key-header)."""


NEXT = re.compile(r'<([^>]*)>\s*;\s*rel="?next"?')
"""The next page of an answer (RFC 8288)."""
MOST_PAGES = 200
MERGED = "application/merge-patch+json"
"""The media type of columns that are written into a record (RFC 7396)."""
TOGETHER = ", "
"""Stands between the ids of several records of one document."""
CAME_FROM = "came_from"
"""Under this a document knows the id of the record over there that it was attached to."""
RecordWay = Literal["new", "into_its_own"]
RECORD_WAYS: dict[RecordWay, str] = {
    "new": "each document is a new record",
    "into_its_own": "into the record that the document came from",
}


class RecordPlan(Plan):
    """The record, as it will be sent."""

    destination: Literal["record"] = "record"
    address: str
    secret: str
    body: str
    identity: str
    record: str = ""
    """Id over there of the record that this one takes the place of, or is written into; "" for a new one."""
    more: tuple[str, ...] = ()
    """Further records, where each row of a table is one."""
    none: bool = False
    """Whether the table has no row, so that no record is sent."""
    into: bool = False
    """Whether its columns are written into a record that others made, which keeps what else it has."""

    @property
    def can_be_recalled(self) -> bool:
        """Not where it took the place of another record, or was written into one: that one would be gone with it."""
        return not self.record

    def recall(self, outlets: Outlets) -> tuple[str, ...]:
        """Remove over there what came with its key. A record that was changed stays as it is: it is sent again."""
        if self.record:
            return ()
        ids = [one for _, identity, _ in self.records for one in self._known(outlets, identity)]
        for one in ids:
            self.remove(outlets, one)
        return tuple(f"{self.address}/{one}" for one in ids)

    @property
    def records(self) -> list[tuple[str, str, str]]:
        """Each with its body, the key that it is known by, and the id over there of the one that it replaces."""
        bodies, before = () if self.none else (self.body, *self.more), self.record.split(TOGETHER)
        return [
            (body, self.identity if not at else f"{self.identity}-{at + 1}", before[at] if at < len(before) else "")
            for at, body in enumerate(bodies)
        ]

    @property
    def surplus(self) -> list[str]:
        """Ids of records of the version before that nothing takes the place of."""
        return [one for one in self.record.split(TOGETHER)[len(self.records) :] if one]

    def remove(self, outlets: Outlets, record: str) -> None:
        """Remove a record over there; that it is gone already is no error. Raises Refused, Later."""
        gone = outlets.web.call("DELETE", f"{self.address}/{quote(record, safe='')}", self.secret)
        if gone.status not in (200, 204, 404):
            raise Refused(f"{self.address} does not remove {record}: {said(_object(gone.body), gone.status)}")

    def _known(self, outlets: Outlets, identity: str) -> list[str]:
        found = outlets.web.call("GET", f"{self.address}?{urlencode({'key': identity})}", self.secret)
        if found.status != 200:
            raise Refused(f"{self.address} does not say whether it has it: {said(_object(found.body), found.status)}")
        return [str(one["id"]) for one in _objects(found.body) if one.get("key") == identity and "id" in one]


class RecordDestination(MappedDestination):
    """An address that takes records, such as vouchers of a ledger."""

    title: ClassVar[str] = "as a record"
    kind: ClassVar[str] = "Record"
    about: ClassVar[str] = "a line in a business system, such as a voucher in a ledger (JSON over HTTP)"
    asks: ClassVar[tuple[Asked, ...]] = (
        Asked("name", "What you call it", "Ledger"),
        Asked("address", "Address that takes its records", "https://ledger.example.org/api/vouchers"),
        Asked(SECRET, "Key", needed=False),
        Asked("each_row_of", "A record of", needed=False, of_tables=True),
        Asked("way", "How", choices={str(code): words for code, words in RECORD_WAYS.items()}),
    )
    destination: Literal["record"] = "record"
    address: str = Field(min_length=1, max_length=500)
    """Where records are posted to; ``ADDRESS/columns`` describes them."""
    secret: str = ""
    """Name of the secret that is its key; "" for none."""
    way: RecordWay = "new"
    """Whether each document is a record of its own, or is written into the one that it came from."""

    def plan(
        self,
        document: Outgoing,
        is_taken: Callable[[str, PurePosixPath], bool],  # noqa: ARG002 - records have no names
        outlets: Outlets,
    ) -> RecordPlan:
        """The record of the document's values. Raises Refused where the other side could not take it."""
        bodies = [json.dumps(one, ensure_ascii=False, sort_keys=True) for one in self.records_of(document)]
        came_from = document.given.get(CAME_FROM, "")
        if self.way == "into_its_own" and self.each_row_of:
            raise Refused("Rows cannot each be a record and be written into the one that the document came from.")
        if self.way == "into_its_own" and not came_from:
            raise Refused(f"It did not come from {self.called}, so there is no record there that it belongs to.")
        identity = f"{outlets.web.house}-{self.id}-{document.reference}-{document.version}"
        return RecordPlan(
            reference=document.reference, pdf=document.pdf, version=document.version, address=self.address,
            secret=self.secret, body=bodies[0] if bodies else "{}", more=tuple(bodies[1:]), none=not bodies,
            identity=identity,
            record=came_from if self.way == "into_its_own" else document.replaces_record,
            into=self.way == "into_its_own",
        )  # fmt: skip

    def send(self, plan: Plan, outlets: Outlets) -> Receipt:
        """Post it, or put it in the place of the one before; the other side knows by its key what it took already.

        Raises Refused, Later.
        """
        plan = of_kind(plan, RecordPlan)
        ids = [self._sent(plan, outlets, *one) for one in plan.records]
        for one in plan.surplus:
            plan.remove(outlets, one)
        data = "\n".join(body for body, _, _ in plan.records).encode()
        return Receipt(
            reference=plan.reference, version=plan.version, bytes=len(data), sha256=hashlib.sha256(data).hexdigest(),
            record=TOGETHER.join(ids), at=plan.address,
        )  # fmt: skip

    def _sent(self, plan: RecordPlan, outlets: Outlets, body: str, identity: str, before: str) -> str:
        """Send one record; returns its id over there."""
        place = f"{plan.address}/{quote(before, safe='')}" if before else plan.address
        way = "PATCH" if plan.into else "PUT" if before else "POST"
        head = {KEY: identity} | ({"content-type": MERGED} if plan.into else {})
        answer = outlets.web.call(way, place, plan.secret, body.encode(), head)
        told = _object(answer.body)
        if not 200 <= answer.status < 300:
            raise Refused(f"{self.called} does not take it: {said(told, answer.status)}")
        return str(told.get("id", before))

    @property
    def called(self) -> str:
        return self.name or self.address

    @property
    def shown(self) -> str:
        return f"as a record to {self.called}"

    @property
    def can_be_tried(self) -> bool:
        return self.way == "new"

    def tried(self, document: Outgoing, outlets: Outlets) -> Trial:
        """Post its record under a key of its own, and remove it there again; what answered is told as it came."""
        if self.way == "into_its_own":
            raise Refused("It is written into a record that is there already, so it cannot be tried and taken back.")
        records = self.records_of(document)
        if not records:
            raise Refused("It has no row of which a record could be made.")
        body = json.dumps(records[0], ensure_ascii=False, sort_keys=True, indent=2)
        head = {KEY: f"{outlets.web.house}-{document.reference}"}
        answer = outlets.web.call("POST", self.address, self.secret, body.encode(), head)
        told = str(_object(answer.body).get("id", "")) if 200 <= answer.status < 300 else ""
        if told:
            gone = outlets.web.call("DELETE", f"{self.address}/{quote(told, safe='')}", self.secret)
            if gone.status not in (200, 204, 404):
                raise Refused(f"{self.called} has taken it as {told} and does not remove it: remove it there.")
        came = f"{answer.status}\n{answer.body.decode('utf-8', 'replace')[:4000]}"
        return Trial(body, came, (told,) if told else ())

    def asked_one(self, web: Web, record: str) -> list[dict[str, Any]]:
        """The record of that id as it is now, or nothing. Raises Refused, Later."""
        answer = web.call("GET", f"{self.address}/{quote(record, safe='')}", self.secret)
        if answer.status not in (200, 404):
            raise Refused(f"{self.called} does not say what is there: {said(_object(answer.body), answer.status)}")
        return [_object(answer.body)] if answer.status == 200 else []

    def asked(self, web: Web, wanted: dict[str, str]) -> list[dict[str, Any]]:
        """The records that are there now, by what is asked for (``?column=value``). Raises Refused, Later."""
        address, found = f"{self.address}?{urlencode(wanted)}", list[dict[str, Any]]()
        for _ in range(MOST_PAGES):
            answer = web.call("GET", address, self.secret)
            if answer.status != 200:
                raise Refused(f"{self.called} does not say what is there: {said(_object(answer.body), answer.status)}")
            found += _objects(answer.body)
            following = NEXT.search(answer.head.get("link", ""))
            if following is None:
                return found
            address = urljoin(address, following[1])
        raise Refused(f"{self.called} has more than can be asked for.")

    def asked_columns(self, outlets: Outlets) -> Columns:
        answer = outlets.web.call("GET", f"{self.address.rstrip('/')}/columns", self.secret)
        told = _object(answer.body)
        if answer.status != 200:
            raise Refused(f"{self.called} does not say its columns: {said(told, answer.status)}")
        try:
            return columns_of(told)
        except ValueError as problem:
            raise Refused(f"{self.called} does not say its columns: {problem}.") from problem


def said(told: dict[str, Any], status: int) -> str:
    """The reason in an answer, as a problem report has it (RFC 9457), or its number."""
    words = told.get("detail") or told.get("title") or told.get("message")
    return f"{str(words).strip().rstrip('.')[:300]}." if words else f"it answers {status}."


def _object(body: bytes) -> dict[str, Any]:
    try:
        told = json.loads(body or b"{}")
    except ValueError:
        return {}
    return told if isinstance(told, dict) else {}


def _objects(body: bytes) -> list[dict[str, Any]]:
    try:
        told = json.loads(body or b"[]")
    except ValueError:
        return []
    return [one for one in told if isinstance(one, dict)] if isinstance(told, list) else []
