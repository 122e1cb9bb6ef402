"""An erased document is nowhere: not in files, tables, words, trails, copies; what is held or not done is left."""

from __future__ import annotations

import io
import os
import subprocess
import zipfile
from datetime import timedelta
from pathlib import Path

import pikepdf
import pytest
from PIL import Image
from sqlalchemy import text
from sqlmodel import col, select

from tests.conftest import DEMO
from tests.desk.flow import deliver_all, drop, ids, read_all, state
from zestpail.core.classification.page_sketch import PageSketch
from zestpail.core.writing.blanked_file import blanked
from zestpail.desk.archive import exporting, keeping
from zestpail.desk.archive.search import Wanted, search
from zestpail.desk.documents import audit, gone_files
from zestpail.desk.documents.context import amend, lane_of_key
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.page_images import page_picture
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.intake import arrivals
from zestpail.desk.lanes import trials
from zestpail.desk.types import samples
from zestpail.desk.types.starters import adopt
from zestpail.store import Store
from zestpail.store.queries.blob_use import let_go, used_blobs
from zestpail.store.retention_tables import Erasure, GoneFile
from zestpail.store.sample_page import SamplePage
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Delivery, Document, LaneTrial, Page, SortingSample
from zestpail.store.trail_tables import Event

LANE, FRENCH, GERMAN = "supplier-invoices", "brevanne-01.pdf", "moewenbek-01.pdf"
WORDS = ("F2600178", "Brevanne", "brevanne", "taud", "12125.82", "12 125,82")
"""What stands on the French invoice, in its file's name, and nowhere else."""


@pytest.fixture
def kept(store: Store, ines: SignedIn, tmp_path: Path) -> Store:
    """Two invoices that were delivered and are over, of a lane that keeps documents for ten days."""
    for name in (FRENCH, GERMAN):
        drop(store, ines, name)
    read_all(store)
    deliver_all(store, tmp_path / "delivered")
    with store.transaction() as session:
        amend(lane_of_key(session, LANE), kept_days=10)
        for document in session.exec(select(Document)):
            document.arrived_at -= timedelta(days=11)
    return store


def test_what_is_due_is_shown_then_erased_and_is_nowhere(kept: Store, ines: SignedIn, tmp_path: Path) -> None:
    adopt(kept, "supplier-invoice", ines.id)
    copy = samples.add_from_batch(kept, "supplier-invoice", 1, ines.id)
    samples.label(kept, copy, "invoice_number", samples.Label("F2600178"))
    gone_before = samples.add_from_batch(kept, "supplier-invoice", 2, ines.id)
    samples.remove_sample(kept, gone_before, ines.id)
    trial = trials.begin_trial(kept, LANE, FRENCH, (DEMO / FRENCH).read_bytes(), ines.id)
    trials.run_trial(kept, trial)
    number = exporting.ask(kept, Wanted(words="taud"), (), files=True, base="http://here", person_id=ines.id)
    exporting.export(kept, number)
    [lane] = keeping.due(kept)
    assert (lane.many, lane.left, [one.samples for one in lane.documents]) == (2, 0, [1, 0])
    assert lane.rule == "Lane Supplier invoices: documents are kept for 10 days after they arrived."
    keeping.hold(kept, 2, "Asked for by the auditor", ines.id)
    with pytest.raises(NotDone, match="1 documents are due now, not 2"):
        keeping.erase_due(kept, LANE, 2, ines.id)
    [lane] = keeping.due(kept)
    assert [one.why_left for one in lane.documents] == ["", "It is held back."]

    keeping.erase(kept, keeping.erase_due(kept, LANE, 1, ines.id))
    [record] = keeping.erasures(kept)
    [erased] = record.documents
    assert f"1,1,supplier-invoice,{erased.arrived},1,{erased.sha256},1" in keeping.record_as_csv(kept, record.id)
    assert (record.rule, record.person, record.done_at is not None) == (lane.rule, "Ines Okafor", True)
    assert (erased.document, erased.type, erased.pages, erased.samples) == (1, "supplier-invoice", 1, 1)
    assert search(kept, Wanted(words="taud")).documents == [] and search(kept, Wanted(words="tauds")).alike == {}
    assert [one.document_id for one in search(kept, Wanted(words="quillon")).documents] == [2]
    program = next(Path("/usr/lib/postgresql").glob("*/bin/pg_dump"))
    dump = subprocess.run([program, "--inserts", kept.url], capture_output=True, check=True, text=True).stdout
    files = b"".join(one.read_bytes() for one in (tmp_path / "blobs").rglob("*") if one.is_file())
    held = search(kept, Wanted(words="Schiffsbedarf")).documents
    assert held and "schiffsbedarf" in dump, "what is there is found by this test"
    for word in WORDS:
        assert [line[:900] for line in dump.splitlines() if word in line] == [], word
        assert word.encode() not in files, word
    lying = {one.name for one in (tmp_path / "blobs").rglob("*") if one.is_file()}
    with kept.transaction() as session:
        assert used_blobs(session, lying) == lying, "no file lies there that nothing refers to"
    assert ids(kept, Document) == [2] and len(ids(kept, Page)) == 1


def test_what_is_not_done_is_left_and_said_and_a_hold_can_be_lifted(store: Store, ines: SignedIn) -> None:
    drop(store, ines, "bight-04.pdf")
    read_all(store)
    with pytest.raises(NotDone, match="Say why"):
        keeping.erase_chosen(store, [1], " ", ines.id)
    keeping.erase(store, keeping.erase_chosen(store, [1, 99], "Asked for by the person", ines.id))
    [record] = keeping.erasures(store)
    assert record.left == {"1": "It is not settled yet.", "99": "It is not there any more."}
    assert state(store, 1) is DocumentState.REVIEW
    keeping.hold(store, 1, "for now", ines.id)
    keeping.lift_hold(store, 1, ines.id)
    assert keeping.shown_before(store, [1])[0].why_left == "It is not settled yet."


def test_of_a_pile_only_the_pages_of_the_document_go(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    drop(store, ines, "hallig-01.tif")
    read_all(store)
    with store.transaction() as session:
        document = session.get_one(Document, 1)
        second = Document(**{**document.model_dump(exclude={"id"}), "state": DocumentState.DELIVERED})
        session.add(second)
        session.flush()
        last = session.exec(select(Page).where(Page.position == 1)).one()
        last.document_id, last.position = second.id, 0
        reading, before = last.reading, session.get_one(ArrivedFile, 1).blob
    keeping.erase(store, keeping.erase_chosen(store, [2], "Asked for", ines.id))
    with store.transaction() as session:
        assert session.get_one(Erasure, 1).left == {}
        file = session.get_one(ArrivedFile, 1)
        assert file.name == "hallig-01.tif" and file.blob != before
        whole = Image.open(io.BytesIO(store.blobs.get(file.blob)))
    assert not store.blobs.holds(before) and not store.blobs.holds(reading or "")
    assert whole.n_frames == 2
    whole.seek(1)
    assert whole.convert("L").getextrema() == (255, 255)
    whole.seek(0)
    assert whole.convert("L").getextrema()[0] == 0
    assert page_picture(store, 1, 600) and state(store, 1) is not None, "the other one is as it was"


def test_files_of_what_broke_off_go_later_and_what_was_just_put_there_stays(
    kept: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    with kept.transaction() as session:
        first, second = session.exec(select(Page).order_by(col(Page.id))).all()
        own, shared, number = first.reading or "", first.thumbnail or "", second.id
        second.thumbnail = shared
    erasure = keeping.erase_chosen(kept, [1], "Asked for", ines.id)

    def breaks(name: str) -> None:
        raise OSError("the disk is gone")

    with monkeypatch.context() as patched, pytest.raises(OSError, match="gone"):
        patched.setattr(kept.blobs, "forget", breaks)
        keeping.erase(kept, erasure)
    assert ids(kept, Document) == [2] and kept.blobs.holds(own)
    for one in (tmp_path / "blobs").rglob("*"):
        os.utime(one, (0, 0))
    monkeypatch.setattr(gone_files, "MOMENT", 60.0)
    assert kept.blobs.put(kept.blobs.get(own)) == own, "another document is given the same just now"
    assert gone_files.delete_gone(kept), "it waits"
    assert kept.blobs.holds(own) and kept.blobs.holds(shared)
    with kept.transaction() as session:
        assert [one.name for one in session.exec(select(GoneFile))] == [own]
        session.get_one(Page, number).image = own
    monkeypatch.setattr(gone_files, "MOMENT", 0.0)
    assert not gone_files.delete_gone(kept) and kept.blobs.holds(own), "it is needed again"
    keeping.erase(kept, erasure)
    [record] = keeping.erasures(kept)
    assert record.done_at and [one.document for one in record.documents] == [1]


def test_many_are_erased_in_several_steps(kept: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(keeping, "A_STEP", 1)
    monkeypatch.setattr(keeping, "AT_ONCE", 1)
    erasure = keeping.erase_chosen(kept, [1, 2], "Asked for", ines.id)
    keeping.erase(kept, erasure)
    [record] = keeping.erasures(kept)
    assert (record.erased, record.done_at, ids(kept, Document)) == (1, None, [2])
    with kept.engine.connect() as connection:
        waits = text("SELECT count(*) FROM procrastinate_jobs WHERE task_name = 'erase' AND status = 'todo'")
        assert connection.execute(waits).scalar_one() == 2, "the one that was asked for, and one for the rest"
    keeping.erase(kept, erasure)
    [record] = keeping.erasures(kept)
    assert record.erased == 2 and record.done_at


def test_a_file_that_a_delivery_or_a_sorting_sample_names_is_needed(kept: Store) -> None:
    with kept.transaction() as session:
        delivery = session.exec(select(Delivery).where(Delivery.document_id == 2)).first()
        assert delivery and delivery.plan
        planned = set(delivery.plan.blobs)
        page = session.exec(select(Page).where(Page.document_id == 2)).one()
        assert planned and page.reading and page.thumbnail
        sketch = PageSketch(words=(), shape=(), picture="0" * 200)
        pages = (SamplePage(reading=page.reading, thumbnail=page.thumbnail, sketch=sketch),)
        session.add(SortingSample(lane_id=1, type_key="supplier-invoice", name="x", pages=pages))
        page.reading, page.thumbnail, of_sample = None, None, {page.reading, page.thumbnail}
        session.flush()
        assert used_blobs(session, planned | of_sample | {"0" * 64}) == planned | of_sample
    gone_files.forget(kept, of_sample)
    assert all(map(kept.blobs.holds, of_sample)), "a page that is read again takes nothing from a sample"
    with kept.transaction() as session:
        let_go(session, of_sample, erased=True)
        let_go(session, of_sample)
    gone_files.delete_gone(kept)
    assert not any(map(kept.blobs.holds, of_sample)) and ids(kept, SortingSample) == []


def test_two_of_one_package_go_one_after_the_other_and_take_nothing_of_others_along(
    store: Store, ines: SignedIn, tmp_path: Path
) -> None:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as package:
        for name, paper in (("1", FRENCH), ("2", GERMAN)):
            package.write(DEMO / paper, f"{name}.pdf")
    arrivals.arrive(store, LANE, "both.zip", packed.getvalue(), ines.id, None)
    read_all(store)  # opens the package
    read_all(store)
    deliver_all(store, tmp_path / "delivered")
    trial = trials.begin_trial(store, LANE, "bight-02.pdf", (DEMO / "bight-02.pdf").read_bytes(), ines.id)
    with store.transaction() as session:
        audit.note(session, "signed_in", person_id=ines.id, after={"message": "from 1.pdf"})
        audit.note(session, "sample_added", person_id=ines.id, after={"type": "x", "file": "1.pdf"})
    for number in (1, 2):
        keeping.erase(store, keeping.erase_chosen(store, [number], "Asked for", ines.id))
    with store.transaction() as session:
        assert session.get_one(Erasure, 2).left == {} and ids(store, Document) == []
        assert session.get(LaneTrial, trial), "of another paper"
        said = {event.what: event.after for event in session.exec(select(Event))}
        assert said["signed_in"] == {"message": "from 1.pdf"} and said["sample_added"] == {"message": "erased"}
        assert [file.problem for file in session.exec(select(ArrivedFile))] == ["It was erased."] * 3


def test_a_page_of_a_pdf_is_made_blank_and_what_speaks_of_it_goes() -> None:
    data = (DEMO / "moewenbek-02.pdf").read_bytes()
    with pikepdf.open(io.BytesIO(data)) as pdf:
        many = len(pdf.pages)
        pdf.docinfo["/Title"] = "Moewenbek"
        pdf.attachments["a.xml"] = b"Moewenbek"
        out = io.BytesIO()
        pdf.save(out)
    with pikepdf.open(io.BytesIO(blanked(out.getvalue(), [0]))) as pdf:
        assert len(pdf.pages) == many and pdf.pages[0].Contents.read_bytes() == b""
        assert not pdf.attachments and "/Info" not in pdf.trailer
    with pytest.raises(ValueError, match="no file of pages"):
        blanked(b"nothing", [0])
