"""A record over HTTP as a destination: one JSON object a document, with the columns that the other side describes."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from pathlib import PurePosixPath
from typing import Any, ClassVar, Literal
from urllib.parse import quote, urlencode

from pydantic import Field

from zestpail.delivery.columns import Columns, columns_of
from zestpail.delivery.destination import Answer, Destination, Outgoing, Outlets, Plan, Receipt, Refused, Web
from zestpail.delivery.mapping import Ties, mapped

KEY = "Idempotency-Key"
"""What a record that is sent again is known by (IETF draft-ietf-httpapi-idempotency-key-header)."""


class RecordPlan(Plan):
    """The record, as it will be sent."""

    destination: Literal["record"] = "record"
    address: str
    secret: str
    body: str
    identity: str
    record: str = ""
    """Id over there of the record that this one takes the place of; "" for a new one."""

    can_be_recalled: ClassVar[bool] = True

    def recall(self, outlets: Outlets) -> tuple[str, ...]:
        """Remove over there what came with its key. A record that was changed stays as it is: it is sent again."""
        if self.record:
            return ()
        found = outlets.web.call("GET", f"{self.address}?{urlencode({'key': self.identity})}", self.secret)
        if found.status != 200:
            raise Refused(f"{self.address} does not say whether it has it: {said(_object(found.body), found.status)}")
        ids = [str(one["id"]) for one in _objects(found.body) if one.get("key") == self.identity and "id" in one]
        for one in ids:
            gone = outlets.web.call("DELETE", f"{self.address}/{quote(one, safe='')}", self.secret)
            if gone.status not in (200, 204, 404):
                raise Refused(f"{self.address} does not remove {one}: {said(_object(gone.body), gone.status)}")
        return tuple(f"{self.address}/{one}" for one in ids)


class RecordDestination(Destination):
    """An address that takes records, such as vouchers of a ledger."""

    title: ClassVar[str] = "as a record"
    destination: Literal["record"] = "record"
    name: str = Field(default="", max_length=80)
    """What the other side is called here."""
    address: str = Field(min_length=1, max_length=500)
    """Where records are posted to; ``ADDRESS/columns`` describes them."""
    secret: str = ""
    """Name of the secret that is its key; "" for none."""
    columns: Columns = Columns()
    """As the other side described them last."""
    ties: Ties = Ties()

    def plan(
        self,
        document: Outgoing,
        is_taken: Callable[[str, PurePosixPath], bool],  # noqa: ARG002 - records have no names
        outlets: Outlets,
    ) -> RecordPlan:
        """The record of the document's values. Raises Refused where the other side could not take it."""
        values = {**document.values, **_about(document)}
        made = mapped(self.ties, self.columns, values, document.rows)
        if made.problems:
            raise Refused(" ".join(made.problems))
        body = json.dumps(made.record, ensure_ascii=False, sort_keys=True)
        identity = f"{outlets.web.house}-{self.id}-{document.reference}-{document.version}"
        return RecordPlan(
            reference=document.reference, pdf=document.pdf, version=document.version, address=self.address,
            secret=self.secret, body=body, identity=identity, record=document.replaces_record,
        )  # fmt: skip

    def send(self, plan: Plan, pdf: bytes, outlets: Outlets) -> Receipt:  # noqa: ARG002 - the values alone
        """Post it, or put it in the place of the one before; the other side knows by its key what it took already.

        Raises Refused, Later.
        """
        if not isinstance(plan, RecordPlan):
            raise Refused("This was planned for another kind of destination.")
        data = plan.body.encode()
        way, place = ("PUT", f"{plan.address}/{quote(plan.record, safe='')}") if plan.record else ("POST", plan.address)
        answer = outlets.web.call(way, place, plan.secret, data, {KEY: plan.identity})
        told = _object(answer.body)
        if not 200 <= answer.status < 300:
            raise Refused(f"{self.called} does not take it: {said(told, answer.status)}")
        return Receipt(
            reference=plan.reference, version=plan.version, bytes=len(data), sha256=hashlib.sha256(data).hexdigest(),
            record=str(told.get("id", plan.record)), at=plan.address,
        )  # fmt: skip

    @property
    def called(self) -> str:
        """What the other side is called in sentences."""
        return self.name or self.address

    @property
    def shown(self) -> str:
        return f"as a record to {self.called}"

    def removed(self, web: Web, answer: Answer) -> str:
        """Remove what was just taken for a test; returns its id. "" where nothing was taken. Raises Refused, Later."""
        told = str(_object(answer.body).get("id", ""))
        if not 200 <= answer.status < 300 or not told:
            return ""
        gone = web.call("DELETE", f"{self.address}/{quote(told, safe='')}", self.secret)
        if gone.status not in (200, 204, 404):
            raise Refused(f"{self.called} has taken it as {told} and does not remove it: remove it there.")
        return told

    def asked(self, web: Web, wanted: dict[str, str]) -> list[dict[str, Any]]:
        """The records that are there now, by what is asked for (``?column=value``). Raises Refused, Later."""
        answer = web.call("GET", f"{self.address}?{urlencode(wanted)}", self.secret)
        if answer.status != 200:
            raise Refused(f"{self.called} does not say what is there: {said(_object(answer.body), answer.status)}")
        return _objects(answer.body)

    def asked_columns(self, web: Web) -> Columns:
        """Its columns, asked now. Raises Refused, Later."""
        answer = web.call("GET", f"{self.address.rstrip('/')}/columns", self.secret)
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


def about_names() -> dict[str, str]:
    """What can be tied besides fields, and what it is called."""
    return {"document": "Document’s number", "document_type": "Document type", "batch": "Batch", "lane": "Lane"}


def _about(document: Outgoing) -> dict[str, str]:
    """What can be tied besides fields."""
    return {
        "document": document.reference, "document_type": document.doc_type.name, "batch": document.batch,
        "lane": document.lane,
    }  # fmt: skip


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
