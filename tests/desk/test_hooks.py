"""Programs are called with what is new: signed, tried again, again by hand, and never what is not theirs."""

from __future__ import annotations

import base64
import hashlib
import hmac
import json
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any, NamedTuple

import pytest
from sqlmodel import select
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import Response
from starlette.routing import Route

from tests.delivery.servers import served
from tests.desk.flow import LANE, drop, read_all
from zestpail.delivery import Web
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.secrets import web_of
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.programs import hooks
from zestpail.desk.programs.hooks import HookTerms
from zestpail.store import Store
from zestpail.store.feed_tables import HookCall


class Listener(NamedTuple):
    """A program that is called: what came, and what it answers."""

    address: str
    web: Web
    came: list[tuple[dict[str, str], bytes]]
    answers: list[int]


@pytest.fixture
def listener(store: Store, tmp_path: Path) -> Iterator[Listener]:
    came, answers = list[tuple[dict[str, str], bytes]](), list[int]()

    async def called(request: Request) -> Response:
        came.append((dict(request.headers), await request.body()))
        return Response(status_code=answers.pop(0) if answers else 204)

    with served(Starlette(routes=[Route("/flow", called, methods=["POST"])])) as address:
        yield Listener(f"{address}/flow", web_of(store, tmp_path, [f"{address}/flow"]), came, answers)


def calls(store: Store) -> list[HookCall]:
    with store.transaction() as session:
        return list(session.exec(select(HookCall).order_by(HookCall.id)))  # type: ignore[arg-type]


def is_signed(head: dict[str, str], body: bytes, secret: str) -> bool:
    """As the standard says it, written down once more."""
    key = base64.b64decode(secret.removeprefix("whsec_"))
    message = f"{head['webhook-id']}.{head['webhook-timestamp']}.".encode() + body
    return head["webhook-signature"] == "v1," + base64.b64encode(hmac.digest(key, message, hashlib.sha256)).decode()


def test_an_address_is_called_tried_again_and_called_again_by_hand(
    store: Store, ines: SignedIn, listener: Listener, tmp_path: Path
) -> None:
    drop(store, ines, "brevanne-01.pdf")
    terms = HookTerms(address=listener.address, kinds=["document.settled"], lanes=[LANE])
    secret = hooks.add_hook(store, tmp_path, listener.web, terms, ines.id)
    read_all(store)
    listener.answers[:] = [500, 410]
    assert hooks.plan_calls(store) == 1, "what arrived before is not told, and no other kind"
    assert (hooks.make_calls(store, listener.web), hooks.make_calls(store, listener.web)) == (1, 0)
    [call] = calls(store)
    assert (call.state, call.attempts) == ("waiting", 1) and "500" in call.problem
    _make_due(store)
    hooks.make_calls(store, listener.web)
    assert (calls(store)[0].answered, calls(store)[0].problem) == (410, "It answers 410.")
    hooks.call_again(store, call.id or 0, ines.id)
    hooks.make_calls(store, listener.web)
    [row] = hooks.calls_made(store)
    assert (row.state, row.attempts, row.problem, row.document_id) == ("done", 1, "", 1)
    assert len({head["webhook-id"] for head, _ in listener.came}) == 1, "the same call each time"
    assert all(is_signed(head, body, secret) for head, body in listener.came)
    told: dict[str, Any] = json.loads(listener.came[-1][1])
    assert (told["type"], told["data"]["document"], told["data"]["lane"]) == ("document.settled", 1, LANE)
    assert hooks.plan_calls(store) == 0

    hooks.end_hook(store, 1, ines.id)
    drop(store, ines, "moewenbek-01.pdf")
    read_all(store)
    assert hooks.plan_calls(store) == 0
    with pytest.raises(NotDone, match="called no more"):
        hooks.call_again(store, row.id, ines.id)


def test_it_is_given_up_in_the_end_and_only_allowed_addresses_are_called(
    store: Store, ines: SignedIn, listener: Listener, tmp_path: Path
) -> None:
    with pytest.raises(NotDone, match="not among the addresses"):
        hooks.add_hook(store, tmp_path, listener.web, HookTerms(address="http://127.0.0.1:9/x"), ines.id)
    with pytest.raises(NotDone, match="no such kind"):
        hooks.add_hook(store, tmp_path, listener.web, HookTerms(address=listener.address, kinds=["all"]), ines.id)
    hooks.add_hook(store, tmp_path, listener.web, HookTerms(address=listener.address), ines.id)
    drop(store, ines, "brevanne-01.pdf")
    assert hooks.plan_calls(store) == 1
    listener.answers[:] = [503] * 20
    for _ in range(len(hooks.WAITS) + 1):
        hooks.make_calls(store, listener.web)
        _make_due(store)
    [call] = calls(store)
    assert (call.state, call.attempts, call.next_at) == ("failed", len(hooks.WAITS) + 1, None)
    assert hooks.make_calls(store, listener.web) == 0


def _make_due(store: Store) -> None:
    with store.transaction() as session:
        for call in session.exec(select(HookCall)):
            call.next_at = call.next_at - timedelta(days=2) if call.next_at else None
