"""Another system begins a reading: signed calls alone, each once, and nothing is lost while it does not answer."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import httpx
import pytest
from fastapi.testclient import TestClient
from sqlmodel import select

from tests.delivery.servers import served
from tests.desk.flow import DEMO, LANE, jobs, read_all
from zestpail.api import create_calls
from zestpail.delivery import Web
from zestpail.delivery.hook import MOST_APART, signed
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.secrets import web_of
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake.calls import fetch_again, fetch_called
from zestpail.desk.lanes.calling_systems import calls_view, listen_to
from zestpail.desk.lanes.letter import put_in_force
from zestpail.standins import board
from zestpail.store import Store
from zestpail.store.intake_tables import CallState
from zestpail.store.tables import ArrivedFile, Document

KEY, SEALED = "a key of the board", "a secret of both"


@dataclass
class Calling:
    """The board, and what we take its calls with."""

    address: str
    web: Web
    cards: board.Board
    door: TestClient

    def call(self, record: str, state: str = "to be read", identity: str = "msg_1", secret: str = SEALED,
             at: int | None = None) -> tuple[int, str]:  # fmt: skip
        body = json.dumps({"type": "card.state", "data": {"id": record, "state": state}}).encode()
        head = signed(body, identity, int(time.time()) if at is None else at, secret)
        answer = self.door.post(f"/{LANE}", content=body, headers=head)
        return answer.status_code, answer.text


@pytest.fixture
def calling(store: Store, ines: SignedIn, tmp_path: Path) -> Iterator[Calling]:
    with served(board.create_app(tmp_path / "board", KEY)) as address:
        web = web_of(store, tmp_path, [f"{address}/api"])
        listen_to(store, web, tmp_path, LANE, f"{address}/api/cards/", "to be read", KEY, SEALED, ines.id)
        put_in_force(store, LANE, ines.id)
        cards = board.Board(tmp_path / "board")
        cards.add("A bill", "bight-02.pdf", (DEMO / "bight-02.pdf").read_bytes())
        desk = Desk(store, tmp_path / "out", data=tmp_path, web=web)
        yield Calling(address, web, cards, TestClient(create_calls(desk)))


def test_only_signed_calls_of_the_right_state_begin_a_reading(store: Store, calling: Calling) -> None:
    long_ago = int(time.time()) - MOST_APART - 5
    assert calling.call("C-1", secret="another")[0] == 401
    assert calling.call("C-1", at=long_ago)[0] == 401
    assert calling.door.post(f"/{LANE}", json={"data": {"id": "C-1"}}).status_code == 401
    assert calling.door.post("/no-such-lane", json={}).status_code == 401, "it is not told which lanes there are"
    assert calling.door.post(f"/{LANE}", content=b"x" * 200_000).status_code == 413
    assert calling.call("C-1", state="new") == (200, '{"begins":false}')
    assert calling.call("")[0] == 422
    assert not [name for name, _ in jobs(store) if name == "fetch_called"]
    for _ in range(2):
        assert calling.call("C-1") == (202, '{"begins":true}')
    assert [name for name, _ in jobs(store)].count("fetch_called") == 1, "the same call twice begins one reading"


def test_what_is_attached_arrives_once_and_knows_its_record(store: Store, calling: Calling, ines: SignedIn) -> None:
    calling.cards.change("C-1", {"state": "to be read"})
    calling.call("C-1")
    for _ in range(2):
        fetch_called(store, calling.web, 1)
    with store.transaction() as session:
        assert [file.name for file in session.exec(select(ArrivedFile))] == ["bight-02.pdf"]
    read_all(store)
    with store.transaction() as session:
        assert session.get_one(Document, 1).origin.given == {"came_from": "C-1"}, "and nothing of how it is known"
    (row,) = calls_view(store, LANE).calls
    assert (row.record, row.state, row.batch, row.problem) == ("C-1", CallState.TAKEN, 1, "")


def test_what_cannot_be_fetched_is_said_and_tried_again(store: Store, calling: Calling, ines: SignedIn) -> None:
    calling.call("C-1")
    fetch_called(store, calling.web, 1)
    (row,) = calls_view(store, LANE).calls
    assert (row.state, row.problem, row.next_at) == (CallState.FAILED, "C-1 is not “to be read” any more.", None)
    calling.cards.change("C-1", {"state": "to be read"})
    fetch_again(store, LANE, row.id, ines.id)
    fetch_called(store, calling.web, 1)
    assert calls_view(store, LANE).calls[0].state == CallState.TAKEN

    calling.call("C-1", identity="msg_2")
    with store.transaction() as session:
        lane = lane_of_key(session, LANE)
        assert lane.settings.calls
        silent = lane.settings.calls.model_copy(update={"address": f"{calling.address}/api/nowhere"})
        lane.settings = lane.settings.model_copy(update={"calls": silent})
    fetch_called(store, calling.web, 2)
    assert "answers 404" in calls_view(store, LANE).calls[0].problem
    httpx.get(calling.address)
    with pytest.raises(NotDone, match="not among the addresses"):
        listen_to(store, calling.web, Path(), LANE, "http://127.0.0.1:1/api", "", "", "", ines.id)
