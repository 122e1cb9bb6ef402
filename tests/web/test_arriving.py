"""Files that programs send and large files in pieces: each is taken once, and nothing is sent twice after a break."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlmodel import select

from tests.conftest import DEMO, token_for
from tests.desk.flow import deliver_all, ids, read_all
from tests.web.test_web import sign_in
from zestpail.core.reading.limits import Limits
from zestpail.delivery import LaneDestination
from zestpail.desk.batches.batch import batch_view
from zestpail.desk.documents.context import (
    amend,
    lane_of_key,
    set_up_lane,
)
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake import chunked_upload
from zestpail.desk.lanes.letter import LetterForm, change_letter, put_in_force
from zestpail.desk.people import tokens
from zestpail.store import Store
from zestpail.store.access_tables import ApiToken
from zestpail.store.tables import ArrivedFile

LANE = "supplier-invoices"
PAPER = (DEMO / "bight-02.pdf").read_bytes()


def test_a_program_sends_a_file_and_asks_how_it_stands(
    client: TestClient, store: Store, ines: SignedIn, tmp_path: Path
) -> None:
    secret = token_for(store, "  the  post room ", ines)
    details = {"authorization": f"Bearer {secret}"}

    def send(key: str = "", lane: str = LANE, data: bytes = PAPER) -> Any:
        headers = {**details, "idempotency-key": key} if key else details
        return client.post(f"/api/v1/lanes/{lane}/files", headers=headers, files={"file": ("a.pdf", data)})

    for headers in ({}, {"authorization": "Bearer pail_wrong"}, {"authorization": f"Basic {secret}"}):
        refused = client.get("/api/v1/lanes", headers=headers)
        assert (refused.status_code, "token is needed" in refused.json()["detail"]) == (401, True)
    assert client.get("/api/v1/lanes", headers=details).json() == [{"key": LANE, "name": "Supplier invoices"}]
    first, again, other = send("N-1"), send("N-1"), send("N-2")
    assert (first.status_code, first.json()) == (201, {"batch": 1, "again": False, "said": ""})
    assert (again.json()["batch"], again.json()["again"], other.json()["batch"]) == (1, True, 2)
    assert send().json()["batch"] == 1, "the same bytes by the same channel"
    nowhere = send(lane="nowhere")
    assert nowhere.headers["content-type"] == "application/problem+json", "RFC 9457"
    assert nowhere.json() == {
        "type": "about:blank", "title": "Not Found", "status": 404, "detail": "There is no such lane.",
    }  # fmt: skip
    assert client.get("/api/v1/batches/99", headers=details).status_code == 404
    assert client.post(f"/api/v1/lanes/{LANE}/files", headers=details).status_code == 422
    read_all(store)
    assert deliver_all(store, tmp_path / "delivered")[0]
    (document,) = client.get("/api/v1/batches/1", headers=details).json()["documents"]
    assert (document["state"], document["values"]["Invoice number"]) == ("delivered", "BB-20217")
    assert document["file"].startswith(LANE)
    (row,) = tokens.tokens(store)
    assert (row.name, row.used_at is not None) == ("the post room", True)
    tokens.revoke(store, row.id, ines.id)
    assert send().status_code == 401
    with store.transaction() as session:
        assert secret not in str(session.exec(select(ApiToken)).all()), "only its hash is kept"
    with pytest.raises(NotDone, match="which program"):
        token_for(store, "  ", ines)


def test_a_large_file_in_pieces_goes_on_after_a_break(
    client: TestClient, store: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch
) -> None:
    sign_in(client)
    wanted = {"lane": LANE, "name": "large.pdf", "size": str(len(PAPER)), "stamp": "17"}
    begun = client.post("/uploads", data=wanted).json()
    at, half = f"/uploads/{begun['key']}", len(PAPER) // 2
    assert begun["there"] == 0
    assert client.put(f"{at}?offset=0", content=PAPER[:half]).json() == {"there": half}
    assert client.put(f"{at}?offset=0", content=PAPER[:half]).json() == {"there": half}, "sent twice, kept once"
    assert client.put(f"{at}?offset={half + 5}", content=b"x").json() == {"there": half}, "a gap is not filled"
    assert "is not whole" in client.post(f"{at}/whole", data=wanted).text
    assert client.post("/uploads", data=wanted).json() == {"key": begun["key"], "there": half}, "dropped once more"
    client.put(f"{at}?offset={half}", content=PAPER[half:])
    saved = chunked_upload.Path.unlink
    monkeypatch.setattr(
        chunked_upload.Path, "unlink", lambda *_, **__: (_ for _ in ()).throw(OSError("it stopped here"))
    )
    assert client.post(f"{at}/whole", data=wanted).status_code == 500
    monkeypatch.setattr(chunked_upload.Path, "unlink", saved)
    assert client.post(f"{at}/whole", data=wanted).json() == {"batch": 1}, "it arrived already, and arrives once"
    (number,) = ids(store, ArrivedFile)
    with store.transaction() as session:
        assert store.blobs.get(session.get_one(ArrivedFile, number).blob) == PAPER
    assert client.put(f"{at}?offset=0", content=b"x").status_code == 404
    again = client.post("/uploads", data=wanted).json()
    client.put(f"/uploads/{again['key']}?offset=0", content=PAPER)
    second = client.post(f"/uploads/{again['key']}/whole?batch=1", data=wanted)
    assert (second.json(), len(ids(store, ArrivedFile))) == ({"batch": 1}, 2), "dropped on purpose a second time"
    too_large = {**wanted, "size": str(Limits().max_bytes + 1)}
    assert "at most" in client.post("/uploads", data=too_large).text
    assert client.put("/uploads/..%2f..%2fetc?offset=0", content=b"x").status_code == 404


def test_documents_are_handed_on_to_another_lane(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    with store.transaction() as session:
        lane_settings = lane_of_key(session, LANE).settings
    folder = lane_settings.folder
    assert folder
    hands_on, here_only = (folder, LaneDestination(lane="second")), (folder,)
    second_settings = lane_settings.model_copy(
        update={"destinations": (folder.model_copy(update={"folder": "second"}),)}
    )
    set_up_lane(store, "second", "Second look", second_settings)
    with store.transaction() as session:
        amend(lane_of_key(session, LANE), destinations=hands_on)
    batch = chunked_upload.arrive(store, LANE, "bight-02.pdf", PAPER, ines.id, None)
    read_all(store)
    assert deliver_all(store, tmp_path) == [True]
    (document,) = batch_view(store, batch).documents
    handed_on = document.receipts[1].handed_on
    assert handed_on
    second = batch_view(store, handed_on)
    assert (second.lane_name, second.channel) == ("Second look", "lane Supplier invoices")
    read_all(store)
    deliver_all(store, tmp_path)
    assert len(list((tmp_path / "second").rglob("*.pdf"))) == 1
    form = LetterForm(folder="second", csv="a.csv", xlsx="a.xlsx", naming="{document type}", hand_on=LANE)
    with pytest.raises(NotDone, match="in a circle"):
        change_letter(store, "second", "delivery", form, ines)
    with store.transaction() as session:
        amend(lane_of_key(session, LANE), destinations=here_only)
    change_letter(store, "second", "delivery", form, ines)
    with store.transaction() as session:
        amend(lane_of_key(session, LANE), destinations=hands_on)
    with pytest.raises(NotDone, match="in a circle"):
        put_in_force(store, "second", ines.id)
