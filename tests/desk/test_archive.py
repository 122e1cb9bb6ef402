"""The archive: words half remembered or misread, numbers with other separators, what it is narrowed by, and marks."""

from __future__ import annotations

import io
import json
from concurrent.futures import ThreadPoolExecutor
from datetime import date
from decimal import Decimal

import numpy as np
import pytest
from PIL import Image

from tests.conftest import DEMO
from tests.desk.flow import drop, read_all, seen
from zestpail.core.reading.read import ReadPage, look_again
from zestpail.desk.archive.choices import choices
from zestpail.desk.archive.entering import enter_due
from zestpail.desk.archive.marked import marked_strip, marks
from zestpail.desk.archive.search import Wanted, search, told_many
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.page_images import page_pixels
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.review import desk
from zestpail.store import Store
from zestpail.store.archive_tables import ArchiveDue
from zestpail.store.queries.documents import pages_of
from zestpail.store.tables import ReadingText


@pytest.fixture
def archive(store: Store, ines: SignedIn) -> Store:
    """A rope invoice of a scan (1), a French one (2) and a German one (3), both born digital."""
    drop(store, ines, "bight-04.pdf", "brevanne-01.pdf", "moewenbek-01.pdf")
    read_all(store)
    return store


def numbers(store: Store, words: str = "", **wanted: object) -> list[int]:
    return [one.document_id for one in search(store, Wanted.model_validate({"words": words, **wanted})).documents]


def test_words_and_numbers_are_found_however_they_are_written(archive: Store) -> None:
    assert numbers(archive, "taud de PROTECTION") == [2]
    assert numbers(archive, '"protection taud"') == [] and numbers(archive, '"taud de protection"') == [2]
    assert numbers(archive, "protec*") == [2]
    for number in ("12125.82", "12 125,82", "12.125,82", "12’125.82"):
        assert numbers(archive, number) == [2], number
    assert numbers(archive, "*26001*") == [2], "the middle of the invoice number F2600178"
    assert numbers(archive, "brévanne-01.pdf") == numbers(archive, "BREVANNE-01") == [2]
    assert search(archive, Wanted(words="Taud")).alike == {}


def test_a_misread_or_misremembered_word_is_looked_for_too_and_said(archive: Store) -> None:
    results = search(archive, Wanted(words="Schiffsbedraf"))
    assert [one.document_id for one in results.documents] == [3]
    assert "schiffsbedarf" in results.alike["schiffsbedraf"]
    assert search(archive, Wanted(words="qqzzxx")).documents == []


def test_the_archive_is_narrowed_and_follows_what_is_changed(archive: Store, ines: SignedIn) -> None:
    assert numbers(archive, party="ateliers") == [2] and numbers(archive, party="Ateliers X") == []
    assert numbers(archive, since=date(2026, 8, 31), until=date(2026, 8, 31)) == [2]
    assert numbers(archive, least=Decimal(12_000), most=Decimal(12_200)) == [2]
    assert numbers(archive, type="supplier-invoice", field="invoice_number", value="f26") == [2]
    assert numbers(archive, lane="nowhere") == numbers(archive, person="nobody") == []
    assert numbers(archive, state="review") == [1]
    desk.hold(archive, 1, ines.id)
    desk.enter(archive, seen(archive, 1, ines), "seller_name", "Zephyr Chandlers")
    assert numbers(archive, "zephyr") == numbers(archive, party="zephyr") == [1]
    offered = choices(archive, "supplier-invoice")
    assert ("review", "in review") in offered.states and ("invoice_number", "Invoice number") in offered.fields
    assert enter_due(archive) == 0, "all is entered"
    closed = frozenset({1})
    assert search(archive, Wanted(words="taud"), closed).documents == []


def test_words_that_were_read_as_one_are_found_at_either_end_and_said(archive: Store) -> None:
    with archive.transaction() as session:
        [page] = pages_of(session, 1)
        session.get_one(ReadingText, page.reading).text += " Kranhakengeschirr"
        session.add(ArchiveDue(document_id=1))
    for word in ("kranhaken", "geschirr"):
        found = search(archive, Wanted(words=word))
        assert ([one.document_id for one in found.documents], found.alike) == ([1], {word: ["kranhakengeschirr"]})
    assert numbers(archive, "hakenge") == numbers(archive, "kran") == [], "not in the middle, and no short word"


def test_two_who_enter_the_same_documents_at_once_wait_for_each_other(archive: Store) -> None:
    for _ in range(3):
        with archive.transaction() as session:
            for number in (1, 2, 3):
                session.add(ArchiveDue(document_id=number))
        with ThreadPoolExecutor(4) as several:
            list(several.map(lambda _: enter_due(archive), range(4)))
    assert numbers(archive, "quillon") == [3, 2, 1]


def test_a_file_of_very_many_words_is_entered_and_hinders_nobody(archive: Store) -> None:
    with archive.transaction() as session:
        [page] = pages_of(session, 2)
        text = session.get_one(ReadingText, page.reading)
        text.text = " ".join([text.text, *(f"w{number}" for number in range(120_000))])
        for number in (2, 3):
            session.add(ArchiveDue(document_id=number))
    assert numbers(archive, "w17") == [2] and numbers(archive, "quillon") == [3, 2, 1]
    long = "-".join(["abcdefghij"] * 300)
    assert numbers(archive, long) == []


def test_pages_of_hits_come_one_after_the_other(
    archive: Store, ines: SignedIn, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("zestpail.desk.archive.search.MOST", 2)
    first = search(archive, Wanted(words="quillon"))
    assert [one.document_id for one in first.documents] == [3, 2] and first.next == 2
    assert numbers(archive, "quillon", before=first.next) == [1]
    told = [told_many(archive, Wanted(words=words)) for words in ("quillon", "quilion", "nowhere", "")]
    assert told == ["3", "3", "0", "3"], "those of a misread word too"
    monkeypatch.setattr("zestpail.desk.archive.search.MOST_COUNTED", 2)
    assert told_many(archive, Wanted(words="quillon")) == "more than 2"


@pytest.mark.parametrize("name", ["tremarec-01.pdf", "norrhavn-02.pdf", "bight-01.tif"])
def test_hits_are_marked_on_the_right_words_of_turned_and_straightened_pages(
    store: Store, ines: SignedIn, name: str
) -> None:
    """Upside down, skewed by more than a degree, and black and white: what the mark covers is read anew."""
    drop(store, ines, name)
    read_all(store)
    order = json.loads((DEMO / f"{name}.truth.json").read_text())["fields"]["order_reference"]
    [found] = search(store, Wanted(words=order)).documents
    with store.transaction() as session:
        page = pages_of(session, 1)[found.page - 1]
    boxes = marks(store, 1, found.page, order, [])
    assert boxes
    seen_there = look_again(ReadPage(reading_of(store, page), page_pixels(store, page)[0]), boxes[0])
    assert seen_there and order in seen_there
    strip = np.asarray(Image.open(io.BytesIO(marked_strip(store, 1, found.page, order, []))).convert("RGB"), np.int16)
    assert 0.0005 < (strip[..., 0] - strip[..., 2] > 60).mean() < 0.2, "a word is marked, and no more"
    for number, words in ((1, "nowhere"), (9, order)):
        with pytest.raises(Missing):
            marked_strip(store, 1, number, words, [])
