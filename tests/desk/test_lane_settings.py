"""The letter of a lane: names made of any values, folders elsewhere, newer revisions of its types."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.desk.flow import LANE, drop, read_all, rows_of
from zestpail.core.document_type import load_type
from zestpail.delivery import Refused, folder_files
from zestpail.desk.delivery import deliveries
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.lanes import letter
from zestpail.desk.lanes.newer_revisions import effect_of_newest
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.tables import Document, TypeRevision


def change(store: Store, person: SignedIn, allowed: tuple[Path, ...] = (), **settings: str) -> None:
    form = letter.letter_view(store, LANE).form.model_copy(update=settings)
    letter.change_letter(store, LANE, "delivery", form, person, allowed)
    letter.put_in_force(store, LANE, person.id)


def give(store: Store, **given: str) -> None:
    """A barcode on its sheet said these values of document 1."""
    with store.transaction() as session:
        document = session.get_one(Document, 1)
        document.origin = document.origin.model_copy(
            update={"given": {k.replace("_", " "): v for k, v in given.items()}}
        )


def test_names_of_values_with_blanks_and_free_text(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    give(store, Delivery_code="QHB-17")
    line = "Quay {Delivery code}/{invoice date: year}/No. {invoice number} of {Supplier}, {Counter}"
    with pytest.raises(NotDone, match="no such value"):
        change(store, ines, naming="{Delivery cod}")
    with pytest.raises(NotDone, match="brace is missing"):
        change(store, ines, naming="{Supplier} {Delivery")
    with pytest.raises(NotDone, match="named by"):
        change(store, ines, naming="a//b")
    change(store, ines, naming=line)
    sentence = "".join(letter.letter_view(store, LANE).lines[-2].pieces)
    assert "Quay {Delivery code}/{Invoice date: year}/No. {Invoice number} of {Supplier}, {counter}" in sentence
    assert letter.letter_view(store, LANE).form.naming in sentence, "what is shown is what is typed"
    assert deliveries.deliver(store, tmp_path, 1)
    (written,) = tmp_path.rglob("*.pdf")
    assert written.relative_to(tmp_path / LANE) == Path(
        "Quay QHB-17/2026/No. F2600178 of Ateliers Portuaires de Brévanne SARL, 0001.pdf"
    )
    assert rows_of(tmp_path)[0]["Delivery code"] == "QHB-17", "and it is a column"


def test_a_folder_elsewhere_where_the_administrator_allows_it(store: Store, ines: SignedIn, tmp_path: Path) -> None:
    elsewhere = tmp_path / "share"
    with pytest.raises(NotDone, match=r"not in one of the folders that the administrator allows \(none\)"):
        change(store, ines, folder=str(elsewhere / "invoices"))
    with pytest.raises(NotDone, match="not in one of"):
        change(store, ines, (elsewhere,), folder=f"{elsewhere}/../other")
    change(store, ines, (elsewhere,), folder=str(elsewhere / "invoices"))
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    assert not deliveries.deliver(store, tmp_path / "delivered", 1), "it is asked again when it is sent"
    deliveries.deliver_again(store, 1, ines.id)
    assert deliveries.deliver(store, tmp_path / "delivered", 1, allowed=(elsewhere,))
    assert [path.parts[-3] for path in elsewhere.rglob("*.pdf")] == ["invoices"]
    with pytest.raises(Refused, match="not among the folders"):
        folder_files(tmp_path, (elsewhere,), "/etc")


def test_a_newer_revision_is_told_with_what_it_would_change(store: Store, ines: SignedIn) -> None:
    drop(store, ines, "brevanne-01.pdf")
    read_all(store)
    assert not letter.letter_view(store, LANE).newer
    old = load_type("supplier-invoice")
    changed = old.model_copy(update={
        "revision": old.revision + 1,
        "fields": tuple(f.model_copy(update={"finders": ()}) if f.key == "order_reference" else f for f in old.fields),
    })  # fmt: skip
    with store.transaction() as session:
        body = changed.model_dump(mode="json")
        session.add(TypeRevision(key=old.key, number=changed.revision, body=body))
    view = letter.letter_view(store, LANE)
    assert view.newer
    assert "Revision 2 of Supplier invoice is published; this lane uses revision 1." in view.lines[1].warnings
    assert view.lines[1].pieces[1] == "Supplier invoice, revision 1"
    effect = effect_of_newest(store, LANE)
    assert effect.compared == 1
    assert [(one.field, one.then) for one in effect.differences] == [("Order", "nothing")]
    letter.use_newest(store, LANE, ines.id)
    assert letter.letter_view(store, LANE).changes == ["types"]
    letter.put_in_force(store, LANE, ines.id)
    with store.transaction() as session:
        active: LaneSettings = lane_of_key(session, LANE).settings
    assert active.revision == 2
