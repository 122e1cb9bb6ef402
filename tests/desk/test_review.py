"""The review desk: every gesture, two people on one document, and every change taken back."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tests.desk.flow import card, drop, jobs, read_all, seen, state
from zestpail.core.kinds import Style
from zestpail.desk.documents.messages import NotDone, Outdated
from zestpail.desk.documents.page_readings import page_words
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.review import desk
from zestpail.desk.review.view import review_view
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.states import DocumentState
from zestpail.store.tables import Document


@pytest.fixture
def swapped(store: Store, ines: SignedIn) -> int:
    """The document with two figures of its total swapped, in Ines's hands."""
    drop(store, ines, "bight-04.pdf")
    read_all(store)
    desk.hold(store, 1, ines.id)
    return 1


def test_a_failed_sum_is_mended_by_what_the_check_offers(store: Store, ines: SignedIn, swapped: int) -> None:
    before = card(store, swapped, "grand_total", ines)
    assert before.state == "fails"
    assert before.failed[0].message.endswith("Two figures look swapped.")
    with pytest.raises(NotDone, match="Still open: VAT, Total"):
        desk.done(store, seen(store, swapped, ines))
    desk.use_offer(store, seen(store, swapped, ines), before.failed[0].check, 1)
    view = review_view(store, swapped, ines.id)
    assert any(c.second_best.startswith("Second best: ") for c in view.cards)
    assert (view.doubtful, view.failing, view.settled) == (0, 0, 12), (
        "the sum proves its other parts, the rows proved the net"
    )
    desk.done(store, seen(store, swapped, ines))
    assert state(store, swapped) == DocumentState.SETTLED
    assert jobs(store)[-1] == ("deliver", {"document_id": swapped})
    desk.back_to_review(store, swapped, ines.id)
    assert state(store, swapped) == DocumentState.REVIEW


def test_a_failed_sum_is_kept_as_printed(store: Store, ines: SignedIn, swapped: int) -> None:
    name = card(store, swapped, "grand_total", ines).failed[0].check
    desk.waive(store, seen(store, swapped, ines), name)
    assert card(store, swapped, "grand_total", ines).state == "settled"
    desk.enter(store, seen(store, swapped, ines), "grand_total", "1,429.99")
    assert card(store, swapped, "grand_total", ines).state == "fails", "what was waived was another failure"


def test_every_gesture_and_every_change_taken_back(store: Store, ines: SignedIn, swapped: int) -> None:
    def total() -> str:
        return card(store, swapped, "grand_total", ines).value

    words = page_words(store, 1)
    net = next(at for at, word in enumerate(words) if word[0] == "1,243.50")
    board = next(at for at, word in enumerate(words) if word[0] == "Board")
    name = [board, board - 1, board - 2]
    printed = next(word for word in words if word[0] == "1,429.20")
    desk.take_words(store, seen(store, swapped, ines), "grand_total", 0, [net])
    assert total() == "1243.50"
    box = desk.Box(printed[1] - 3, printed[2] - 3, printed[3] + 3, printed[4] + 3)
    desk.take_box(store, seen(store, swapped, ines), "grand_total", 0, box)
    assert total() == "1429.20"
    desk.enter(store, seen(store, swapped, ines), "grand_total", "1 492,20")
    assert total() == "1492.20"
    assert card(store, swapped, "grand_total", ines).state == "settled"
    desk.enter(store, seen(store, swapped, ines), "grand_total", "")
    assert total() == ""
    desk.take_words(store, seen(store, swapped, ines), "seller_name", 0, name)
    assert card(store, swapped, "seller_name", ines).value == "Quillon Harbour Board"
    with pytest.raises(NotDone, match="“Quillon Harbour Board” is not a date"):
        desk.take_words(store, seen(store, swapped, ines), "issue_date", 0, name)
    with pytest.raises(NotDone, match=r"“31\.02\.2026” is not a date"):
        desk.enter(store, seen(store, swapped, ines), "issue_date", "31.02.2026")
    steps = []
    for _ in range(5):
        desk.undo_last(store, seen(store, swapped, ines))
        steps.append((card(store, swapped, "seller_name", ines).value, total()))
    assert steps == [
        ("Bight & Bollard Ltd", ""),
        ("Bight & Bollard Ltd", "1492.20"),
        ("Bight & Bollard Ltd", "1429.20"),
        ("Bight & Bollard Ltd", "1243.50"),
        ("Bight & Bollard Ltd", "1429.20"),
    ]
    as_found = card(store, swapped, "grand_total", ines)
    assert (as_found.state, as_found.confidence < 0.6) == ("fails", True)
    with pytest.raises(NotDone, match="nothing to undo"):
        desk.undo_last(store, seen(store, swapped, ines))


def test_a_person_s_word_stands(store: Store, ines: SignedIn, swapped: int) -> None:
    """A number that fails its check figures is taken, with that noted; what is typed follows the document's order."""
    desk.enter(store, seen(store, swapped, ines), "seller_iban", "GB00 QUIL 0000 0000 0000 00")
    iban = card(store, swapped, "seller_iban", ines)
    assert (iban.value, iban.state) == ("GB00QUIL00000000000000", "settled")
    assert iban.source == "set by a person; its check figures do not come out"
    with pytest.raises(NotDone, match="is not an IBAN"):
        desk.enter(store, seen(store, swapped, ines), "seller_iban", "unknown")
    desk.enter(store, seen(store, swapped, ines), "seller_vat_id", "DE 111 111 111")
    vat = card(store, swapped, "seller_vat_id", ines)
    assert (vat.state, vat.source) == ("settled", "set by a person; its check figures do not come out")
    for day_first, day, told in ((True, "2026-11-01", "1 November 2026"), (False, "2026-01-11", "11 January 2026")):
        with store.transaction() as session:
            document = session.get_one(Document, swapped)
            document.style = Style(day_first=day_first)
        assert desk.understood(store, swapped, "issue_date", "1/11/2026") == told
        desk.enter(store, seen(store, swapped, ines), "issue_date", "1/11/2026")
        assert card(store, swapped, "issue_date", ines).value == day
    assert desk.understood(store, swapped, "issue_date", "31.02.2026") == "not a date"
    assert desk.understood(store, swapped, "seller_name", "Bight") == "", "it stands as it is"


def test_another_reading_is_picked_and_a_doubt_accepted(store: Store, ines: SignedIn) -> None:
    drop(store, ines, "norrhavn-03.tif")
    read_all(store)
    desk.hold(store, 1, ines.id)
    readings = card(store, 1, "issue_date", ines).readings
    assert readings
    desk.pick(store, seen(store, 1, ines), "issue_date", 1)
    assert card(store, 1, "issue_date", ines).shown == readings[0].shown
    assert card(store, 1, "buyer_name", ines).state == "doubtful"
    desk.accept(store, seen(store, 1, ines), "buyer_name")
    assert card(store, 1, "buyer_name", ines).state == "settled"


def test_two_people_on_one_document(store: Store, ines: SignedIn, tomas: SignedIn, swapped: int) -> None:
    desk.hold(store, swapped, tomas.id)
    view = review_view(store, swapped, tomas.id)
    assert (view.holder, view.open_to_change) == ("Ines Okafor", False)
    assert desk.next_for_review(store, tomas.id) is None
    with pytest.raises(NotDone, match="Ines Okafor is working on this document"):
        desk.accept(store, seen(store, swapped, tomas), "net_total")
    stale = seen(store, swapped, ines)
    desk.accept(store, stale, "net_total")
    with pytest.raises(Outdated):
        desk.accept(store, stale, "tax_total")
    desk.hold(store, swapped, tomas.id, take_over=True)
    assert review_view(store, swapped, ines.id).holder == "Tomas Brandt"
    with store.transaction() as session:
        session.get_one(Document, swapped).held_at = now() - timedelta(hours=1)
    assert desk.next_for_review(store, ines.id) == swapped


def test_the_same_invoice_twice_is_told_with_the_earlier_file(store: Store, ines: SignedIn) -> None:
    drop(store, ines, "moewenbek-01.pdf")
    read_all(store)
    assert state(store, 1) == DocumentState.SETTLED
    drop(store, ines, "moewenbek-01.pdf")
    read_all(store)
    assert state(store, 2) == DocumentState.REVIEW
    desk.hold(store, 2, ines.id)
    (failed,) = card(store, 2, "grand_total", ines).failed
    assert failed.message.startswith("moewenbek-01.pdf, which came on ")
    assert failed.message.endswith(" has the same supplier, invoice number and total.")
    desk.waive(store, seen(store, 2, ines), failed.check)
    with pytest.raises(NotDone, match="shows the same paper"):
        desk.done(store, seen(store, 2, ines))
    desk.waive(store, seen(store, 2, ines), "not_scanned_again")
    desk.done(store, seen(store, 2, ines))
    assert state(store, 2) == DocumentState.SETTLED
