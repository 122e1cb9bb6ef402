"""A program that knows nothing but the API's description: a flow elsewhere, types it sets up, and what it may not."""

from __future__ import annotations

from threading import Thread
from typing import Any

import pytest
from fastapi.testclient import TestClient
from lxml import html
from openapi_spec_validator import validate

from tests.conftest import DEMO, token_for
from tests.desk.flow import deliver_all, read_all, seen
from zestpail.api import create_api
from zestpail.api.caller import Pace
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.people import tokens
from zestpail.desk.pipeline import direct
from zestpail.desk.review import desk
from zestpail.store import Store
from zestpail.store.states import Scope

LANE = "supplier-invoices"
DOUBTFUL, SURE = "bight-04.pdf", "brevanne-01.pdf"


class Program:
    """Calls operations by their names, as the description has them, and takes no answer that it does not document."""

    def __init__(self, client: TestClient, token: str) -> None:
        self._client, self._head = client, {"authorization": f"Bearer {token}"}
        self.described = client.get("/api/v1/openapi.json").json()
        self._operations = {
            one["operationId"]: (method, path, one)
            for path, methods in self.described["paths"].items() for method, one in methods.items()
        }  # fmt: skip

    def __call__(self, operation: str, status: int = 200, head: dict[str, str] | None = None, **told: Any) -> Any:
        method, path, described = self._operations[operation]
        known = {one["name"]: one["in"] for one in described.get("parameters", ())}
        body = {name: told.pop(name) for name in ("json", "files") if name in told}
        assert set(told) <= set(known), set(told) - set(known)
        for name in [name for name in told if known[name] == "path"]:
            path = path.replace(f"{{{name}}}", str(told.pop(name)))
        address = self.described["servers"][0]["url"] + path
        answer = self._client.request(method, address, params=told, headers={**self._head, **(head or {})}, **body)
        assert answer.status_code == status, answer.text
        assert str(status) in described["responses"]
        media = answer.headers.get("content-type", "").partition(";")[0]
        assert not answer.content or media in described["responses"][str(status)]["content"]
        return answer


@pytest.fixture
def program(client: TestClient, store: Store, ines: SignedIn) -> Program:
    return Program(client, token_for(store, "ERP", ines))


def sent(program: Program, name: str) -> int:
    files = {"file": (name, (DEMO / name).read_bytes())}
    return int(program("send_file", 201, lane=LANE, files=files).json()["batch"])


def settle(store: Store, document_id: int, person: SignedIn) -> None:
    """Everything that is asked of a person stands as it is."""
    desk.hold(store, document_id, person.id)
    desk.enter(store, seen(store, document_id, person), "seller_name", "Bight Chandlers")
    desk.enter(store, seen(store, document_id, person), "grand_total", "1,492.20")
    desk.done(store, seen(store, document_id, person))


def test_a_flow_elsewhere_is_told_what_is_new_fetches_it_and_marks_it_taken(
    program: Program, store: Store, ines: SignedIn, tmp_path: Any
) -> None:
    cursor = program("what_is_new_since").json()["next"]
    batch = sent(program, SURE)
    assert not program("how_a_batch_stands", batch=batch).json()["at_rest"]
    read_all(store)
    standing = program("how_a_batch_stands", batch=batch, wait=30).json()
    assert standing["at_rest"] and standing["documents"][0]["state"] == "settled"
    news = program("what_is_new_since", after=cursor).json()
    assert [one["kind"] for one in news["news"]] == ["batch.arrived", "document.settled"]
    number = news["news"][-1]["document"]
    assert program("what_is_new_since", after=news["next"]).json() == {"news": [], "next": news["next"]}

    told = program("a_document", document=number)
    total = told.json()["fields"]["grand_total"]
    assert (total["value"], total["page"], total["state"], len(total["box"])) == ("12125.82", 1, "settled", 4)
    assert told.json()["tables"]["lines"][0]["cells"] and all(check["passed"] for check in told.json()["checks"])
    program("a_document", 304, {"if-none-match": told.headers["etag"]}, document=number)
    words = program("words_of_a_page", document=number, number=1).json()
    assert "F2600178" in [word["text"] for word in words]
    assert program("picture_of_a_page", document=number, number=1, width=600).content.startswith(b"\xff\xd8")
    for form, begins in (("pdf_a", b"%PDF"), ("hocr", b"<?xml"), ("alto", b"<?xml"), ("values_json_lines", b"{")):
        file = program("file_of_a_document", document=number, form=form)
        assert file.content.startswith(begins), form

    listed = {"settled": True, "taken": False}
    assert [one["id"] for one in program("search_documents", **listed).json()["documents"]] == [number]
    program("mark_as_taken", 204, document=number, json={"reference": "VOUCHER-1"})
    assert program("search_documents", **listed).json()["documents"] == []
    assert program("a_document", document=number).json()["taken"]["reference"] == "VOUCHER-1"
    assert deliver_all(store, tmp_path) == [True]
    assert [one["state"] for one in program("deliveries_of_a_document", document=number).json()] == ["sent"]
    desk.back_to_review(store, number, ines.id)
    assert "not settled" in program("mark_as_taken", 409, document=number, json={}).json()["detail"]
    desk.hold(store, number, ines.id)
    desk.done(store, seen(store, number, ines))
    assert [one["id"] for one in program("search_documents", **listed).json()["documents"]] == [number], "a new version"
    program("mark_as_taken", 204, document=number, json={})
    program("mark_as_not_taken", 204, document=number)
    assert len(program("search_documents", **listed).json()["documents"]) == 1
    kinds = [one["kind"] for one in program("what_is_new_since", after=news["next"], lane=LANE).json()["news"]]
    assert kinds == ["document.delivered", "document.reopened", "document.settled"]


def test_a_program_waits_for_a_review_and_is_told_as_it_is_done(program: Program, store: Store, ines: SignedIn) -> None:
    sent(program, DOUBTFUL)
    read_all(store)
    assert program("a_document", document=1).json()["state"] == "review"
    reviewer = Thread(target=settle, args=(store, 1, ines))
    reviewer.start()
    told = program("a_document", document=1, wait=30).json()
    reviewer.join()
    assert (told["state"], told["settled_by"]) == ("settled", "Ines Okafor")
    assert told["fields"]["seller_name"]["value"] == "Bight Chandlers"


def test_a_token_sees_the_lanes_that_it_is_for_and_no_other(
    program: Program, client: TestClient, store: Store, ines: SignedIn
) -> None:
    sent(program, SURE)
    read_all(store)
    other = Program(client, token_for(store, "other", ines, scopes=[Scope.READ]))
    with store.transaction() as session:
        row = session.get_one(tokens.ApiToken, 2)
        row.lanes = ("letters",)
    for operation in ("a_document", "deliveries_of_a_document"):
        assert "not for the lane" in other(operation, 403, document=1).json()["detail"]
    other("picture_of_a_page", 403, document=1, number=1)
    other("mark_as_taken", 403, document=1, json={})
    assert other("search_documents").json()["documents"] == []
    assert other("what_is_new_since", after=0).json()["news"] == []
    other("search_documents", 403, lane=LANE)
    other("import_a_type", 403, json={})
    program("a_document", 404, document=99)
    assert "a day such as" in program("search_documents", 422, field="grand_total", lowest="much").json()["detail"]
    for between, many in ((("12000", "13000"), 1), (("13000", ""), 0)):
        found = program("search_documents", field="grand_total", lowest=between[0], highest=between[1]).json()
        assert len(found["documents"]) == many
    assert len(program("search_documents", field="issue_date", highest="2026-08-31").json()["documents"]) == 1
    assert program("search_documents", field="issue_date", lowest="2026-09-01").json()["documents"] == []
    program("picture_of_a_page", 404, document=1, number=7)


def test_a_program_sets_up_a_type(program: Program, store: Store) -> None:
    pinned = program("a_revision", key="supplier-invoice", revision=1).json()
    begun = program("import_a_type", 201, json={**pinned, "key": "harbour-dues", "name": "Harbour dues"}).json()["key"]
    draft = program("the_draft_of_a_type", key=begun)
    changed = {**draft.json(), "checks": draft.json()["checks"][:1]}
    mine = {"if-match": draft.headers["etag"]}
    assert len(program("replace_the_draft", 200, mine, key=begun, json=changed).json()["checks"]) == 1
    assert "Somebody else" in program("replace_the_draft", 412, mine, key=begun, json=draft.json()).json()["detail"]
    wrong = program("replace_the_draft", 409, mine, key=begun, json={"key": begun, "name": 7, "fields": []})
    assert "not a document type that can be read" in wrong.json()["detail"]
    assert program("publish_the_draft", 201, key=begun, json={"note": "By a program"}).json() == {"revision": 1}
    [line] = program("revisions_of_a_type", key=begun).json()
    assert (line["note"], line["by"]) == ("By a program", "Ines Okafor")
    assert {"key": begun, "name": "Harbour dues", "revision": 1} in program("every_type").json()


def test_the_same_call_made_again_is_not_read_twice(
    program: Program, client: TestClient, store: Store, ines: SignedIn
) -> None:
    def extract(data: bytes, status: int) -> Any:
        files, head = {"file": ("a.pdf", data)}, {"idempotency-key": "note-88"}
        return program("extract_from_a_file", status, head, key="supplier-invoice", files=files, wait=0)

    paper = (DEMO / SURE).read_bytes()
    job = extract(paper, 202).json()["job"]
    assert extract(paper, 202).json()["job"] == job
    assert "came with this key before" in extract(paper + b"\n", 409).json()["detail"]
    direct.run(store, job)
    assert extract(paper, 200).json()["fields"]["grand_total"]["value"] == "12125.82"
    program("what_came_of_a_job", job=job, wait=5)
    told = program("what_is_new_since", after=0, kind="job.done").json()["news"]
    assert [(one["kind"], one["job"], one["lane"]) for one in told] == [("job.done", job, None)]
    other = Program(client, token_for(store, "other", ines))
    assert other("what_is_new_since", after=0).json()["news"] == [], "another program's job"


def test_who_calls_too_often_is_told_when_to_call_again(store: Store, ines: SignedIn, tmp_path: Any) -> None:
    api = create_api(Desk(store, tmp_path), Pace(at_once=3, each_second=0.5))
    mine, other = ({"authorization": f"Bearer {token_for(store, name, ines)}"} for name in ("mine", "other"))
    with TestClient(api) as client:
        answers = [client.get("/lanes", headers=mine) for _ in range(4)]
        assert [one.status_code for one in answers] == [200, 200, 200, 429]
        assert 1 <= int(answers[-1].headers["retry-after"]) <= 3
        assert client.get("/lanes", headers=other).status_code == 200
    pace = Pace(at_once=2, each_second=0.5)
    assert [pace.wait(1, at) for at in (0.0, 0.0, 0.0, 1.0, 2.0)] == [0, 0, 2, 1, 0]


def test_the_description_is_clean_and_shows_an_example_of_everything(client: TestClient) -> None:
    told = client.get("/api/v1/openapi.json").json()
    assert told["openapi"].startswith("3.1")
    validate(told)
    page = html.fromstring(client.get("/api/v1/reference").text)
    shown = {article.get("id") for article in page.iter("article")}
    for methods in told["paths"].values():
        for one in methods.values():
            assert one["operationId"] in shown and one["description"]
            for status, answer in one["responses"].items():
                for media, of in answer.get("content", {}).items():
                    bytes_alone = of.get("schema", {}).get("format") == "binary"
                    assert "example" in of or bytes_alone, (one["operationId"], status, media)
            assert all("example" in each for each in one.get("parameters", ()) if each["in"] == "path")
    addresses = [each.get("href") or each.get("src") for each in page.iter("a", "link", "img", "script")]
    assert all(address.startswith(("/", "#")) for address in addresses), "nothing of elsewhere"
