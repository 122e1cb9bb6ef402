"""The reading room, searches with a name, what is taken along, and the folders that documents were filed in."""

from __future__ import annotations

import io
import zipfile
from datetime import timedelta
from pathlib import Path
from typing import Any

import pikepdf
import pytest
from openpyxl import load_workbook

from tests.conftest import DEMO
from tests.desk.flow import deliver_all, drop, read_all, seen
from zestpail.delivery import Parcel, Refused
from zestpail.desk.archive import exporting, sending, views
from zestpail.desk.archive.filed import folder_view
from zestpail.desk.archive.reading_room import neighbours, reading_room
from zestpail.desk.archive.search import Wanted, search
from zestpail.desk.archive.sending import Letter
from zestpail.desk.documents import gone_files
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.review import desk
from zestpail.store import Store
from zestpail.store.retention_tables import Export

LANE = "supplier-invoices"


@pytest.fixture
def archive(store: Store, ines: SignedIn, tmp_path: Path) -> Store:
    """A rope invoice in review (1), a French one (2) and a German one (3), both delivered."""
    drop(store, ines, "bight-04.pdf", "brevanne-01.pdf", "moewenbek-01.pdf")
    read_all(store)
    deliver_all(store, tmp_path / "delivered")
    return store


def test_a_document_with_its_values_places_hits_deliveries_and_history(archive: Store, ines: SignedIn) -> None:
    room = reading_room(archive, 2, "taud protection")
    total = next(card for card in room.cards if card.key == "grand_total")
    assert (total.shown, total.page, total.side, total.state) == ("12,125.82", 1, "right", "settled")
    assert total.box and total.box.width > 20
    assert (room.state, room.delivered, room.type_name, room.lane_key) == ("delivered", True, "Supplier invoice", LANE)
    assert room.hits and all(hit.page == 1 and hit.box.height > 4 for hit in room.hits)
    assert reading_room(archive, 2, "nowhere").hits == [] == reading_room(archive, 2).hits
    [lines] = room.tables
    assert "Line total" in lines.columns and len(lines.rows) >= 3 and lines.more == 0
    [handed] = room.deliveries
    assert (handed.state, handed.version, handed.number) == ("sent", 1, 0) and handed.receipt
    said = [one.words for one in room.history]
    assert said[0] == "opened" and said[-1] == "delivered to all destinations" and "settled" in said
    assert reading_room(archive, 1).in_review
    with pytest.raises(Missing):
        reading_room(archive, 9)


def test_a_corrected_document_has_a_version_more_and_its_history_says_who(
    archive: Store, ines: SignedIn, tmp_path: Path
) -> None:
    desk.back_to_review(archive, 2, ines.id)
    desk.hold(archive, 2, ines.id)
    desk.enter(archive, seen(archive, 2, ines), "order_reference", "QHB-9999")
    desk.done(archive, seen(archive, 2, ines))
    deliver_all(archive, tmp_path / "delivered")
    room = reading_room(archive, 2)
    assert [one.version for one in room.deliveries] == [1, 2] and room.settled_by == "Ines Okafor"
    [change] = [one for one in room.history if "QHB-9999" in one.more]
    assert (change.person, change.words) == ("Ines Okafor", "values changed") and "→ QHB-9999" in change.more


def test_the_next_and_the_previous_of_what_was_found(archive: Store) -> None:
    every = Wanted(words="quillon")
    assert neighbours(archive, 2, every) == (neighbours(archive, 2, every).__class__)(newer=3, older=1)
    assert (neighbours(archive, 3, every).newer, neighbours(archive, 1, every).older) == (None, None)
    delivered = Wanted(words="quillon", state="delivered")
    assert neighbours(archive, 2, delivered).older is None


def test_it_is_downloaded_as_it_arrived_and_as_it_stands_and_sent(archive: Store, ines: SignedIn) -> None:
    came = sending.as_it_arrived(archive, 2)
    assert (came.name, came.data) == ("brevanne-01.pdf", (DEMO / "brevanne-01.pdf").read_bytes())
    stands = sending.as_it_stands(archive, 2, "values_json_lines")
    assert stands.name == "brevanne-01-2.jsonl"
    first, second, *_ = stands.data.splitlines()
    assert b'"grand_total": "12125.82"' in first and b'"table": "lines", "row": 1' in second
    sent: list[Parcel] = []

    class Mailbox:
        def send(self, parcel: Parcel) -> None:
            if parcel.to.startswith("nobody"):
                raise Refused("There is nobody of that name.")
            sent.append(parcel)

    told = sending.send(archive, Mailbox(), 2, Letter(" auditor@example.org ", "", "As you asked."), ines.id)
    assert told == "Sent to auditor@example.org." and sent[0].subject == "brevanne-01-2.pdf"
    [(name, data)] = sent[0].files
    assert name.endswith(".pdf") and len(pikepdf.open(io.BytesIO(data)).pages) == 1
    assert reading_room(archive, 2).history[-1].words == "sent on by e-mail"
    for to, why in (("auditor", "no e-mail address"), ("a@b, c@d", "no e-mail address"), ("nobody@x.org", "nobody")):
        with pytest.raises(NotDone, match=why):
            sending.send(archive, Mailbox(), 2, Letter(to, "", ""), ines.id)
    with pytest.raises(NotDone, match="No server"):
        sending.send(archive, None, 2, Letter("a@example.org", "", ""), ines.id)


def test_what_was_found_is_taken_along_with_links_values_and_files(
    archive: Store, ines: SignedIn, tomas: SignedIn
) -> None:
    wanted = Wanted(words="quillon", type="supplier-invoice")
    number = exporting.ask(archive, wanted, ["grand_total"], files=False, base="http://pail/", person_id=ines.id)
    with pytest.raises(Missing):
        exporting.exported_file(archive, number, ines.id)
    exporting.export(archive, number)
    exporting.export(archive, number)  # a second time does nothing
    [row] = exporting.exports_of(archive, ines.id)
    assert (row.state, row.done, row.total, row.name) == ("done", 3, 3, "quillon, supplier-invoice")
    name, data = exporting.exported_file(archive, number, ines.id)
    rows = list(load_workbook(io.BytesIO(data)).worksheets[0].iter_rows(values_only=True))
    assert name.endswith(".xlsx") and rows[0][0] == "Document" and rows[0][-1] == "Total"
    french: dict[Any, Any] = dict(zip(rows[0], rows[2], strict=True))
    assert french["Document"] == '=HYPERLINK("http://pail/archive/documents/2", "D2")'
    assert (float(french["Total"]), french["State"], french["File"]) == (12125.82, "delivered", "brevanne-01.pdf")
    with pytest.raises(Missing):
        exporting.exported_file(archive, number, tomas.id)
    packed = exporting.ask(archive, Wanted(party="ateliers"), (), files=True, base="http://pail", person_id=ines.id)
    exporting.export(archive, packed)
    with zipfile.ZipFile(io.BytesIO(exporting.exported_file(archive, packed, ines.id)[1])) as files:
        assert files.namelist() == ["document-2.pdf", "documents.xlsx"] and files.read("document-2.pdf")[:4] == b"%PDF"
    with archive.transaction() as session:
        blob = session.get_one(Export, packed).blob
        for one in (number, packed):
            session.get_one(Export, one).at -= exporting.KEPT + timedelta(minutes=1)
    exporting.forget_old(archive)
    gone_files.delete_gone(archive)
    assert exporting.exports_of(archive, ines.id) == [] and not archive.blobs.holds(blob)


def test_too_much_for_one_export_is_told(archive: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(exporting, "MOST_FILES", 2)
    number = exporting.ask(archive, Wanted(words="quillon"), (), files=True, base="", person_id=ines.id)
    exporting.export(archive, number)
    [row] = exporting.exports_of(archive, ines.id)
    assert row.state == "failed" and row.problem == "These are 3 documents; one export takes 2 at most."


def test_a_search_with_a_name_is_ones_own_or_for_all(archive: Store, ines: SignedIn, tomas: SignedIn) -> None:
    wanted = Wanted(words="quillon", before=3)
    own = views.save_view(archive, "  To  us ", wanted, ["grand_total"], ines.id, for_all=False)
    shared = views.save_view(archive, "Delivered", Wanted(state="delivered"), [], ines.id, for_all=True)
    assert views.save_view(archive, "To us", Wanted(words="harbour"), [], ines.id, for_all=False) == own, "in its place"
    assert views.saved_view(archive, own, ines.id).wanted == {"words": "harbour"}
    assert [one.name for one in views.views_for(archive, ines.id)] == ["Delivered", "To us"]
    assert [(one.id, one.mine) for one in views.views_for(archive, tomas.id)] == [(shared, False)]
    for forbidden in (lambda: views.saved_view(archive, own, tomas.id), lambda: views.remove_view(archive, shared, 2)):
        with pytest.raises(Missing):
            forbidden()
    with pytest.raises(NotDone, match="a name"):
        views.save_view(archive, " ", wanted, [], ines.id, for_all=False)
    views.remove_view(archive, own, ines.id)
    assert [one.id for one in views.views_for(archive, ines.id)] == [shared]


def test_folders_are_a_tree_and_a_fields_values_lie_between(archive: Store) -> None:
    top = folder_view(archive, LANE, "")
    assert sum(one.documents for one in top.folders) == 2 and not top.documents
    within = folder_view(archive, LANE, top.folders[0].path)
    assert within.above == [(top.folders[0].name, top.folders[0].path)] and within.documents
    with pytest.raises(Missing):
        folder_view(archive, LANE, "", closed={1})
    field = {"type": "supplier-invoice", "field": "grand_total"}
    found = search(archive, Wanted.model_validate({**field, "lowest": "12 000", "highest": "12,200"})).documents
    assert [one.document_id for one in found] == [2]
