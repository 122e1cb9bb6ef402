"""Tables at the bench: with a header and without one, ended, published alone; starters with tables are tried."""

from __future__ import annotations

import pytest

from tests.desk.conftest import sample_of
from tests.desk.type_flow import at
from zestpail.core.document_type import load_type, starters
from zestpail.core.reading.geometry import Box
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.types import drafts, samples
from zestpail.desk.types.bench import tables
from zestpail.desk.types.bench.table_view import TableCard
from zestpail.desk.types.bench.tables import TableForm
from zestpail.desk.types.bench.view import bench_view
from zestpail.desk.types.starters import starter_view, tries_of, try_starter
from zestpail.store import Store
from zestpail.store.tables import Page, Sample

KEY = "berth-dues"
DUES = """
Berth        Day           Tons       Fee
North        26.11.2026    2.620     41,00
South        27.11.2026    1.480     22,50
Slipway      27.11.2026    3.905     60,25


Collected by the harbour office
"""


@pytest.fixture
def dues(store: Store, ines: SignedIn) -> Store:
    """A type without fields, with one sample."""
    drafts.begin_type(store, "Berth dues", ines.id)
    sample_of(store, ines, KEY, "dues.pdf", DUES)
    return store


def card(store: Store, key: str) -> TableCard:
    return next(table for table in bench_view(store, KEY, 1, key).tables if table.key == key)


def first_column(store: Store, key: str) -> list[str]:
    return [line.cells[0][0] for line in card(store, key).rows]


def draw(store: Store, person: SignedIn, lines: slice) -> tuple[str, str]:
    """Draw round these lines of print."""
    with store.transaction() as session:
        (read,) = samples.proof_samples(store, session, KEY)
    boxes = [line.box for line in read.document.lines][lines]
    area = Box(boxes[0].x0 - 3, boxes[0].y0 - 2, max(b.x1 for b in boxes) + 3, boxes[-1].y1 + 2)
    return tables.add_table(store, at(store, person, KEY), 1, 0, area)


def test_what_is_a_header_and_what_a_row_can_be_said(dues: Store, ines: SignedIn) -> None:
    key, message = draw(dues, ines, slice(0, 4))
    assert message.startswith("“Berth Day Tons Fee” was taken for the header.")
    assert first_column(dues, key) == ["North", "South", "Slipway"], "the line below is no row"
    message = tables.header_is_row(dues, at(dues, ines, KEY), 1, key)
    assert message.startswith("The first line is a row now.")
    assert [name for name, _ in card(dues, key).headings] == ["Column 1", "Column 2", "Column 3", "Column 4"]
    tables.add_divider(dues, at(dues, ines, KEY), 1, key, 0, 270)
    assert len(card(dues, key).headings) == 5, "a divider can be added where no header is"
    assert len(card(dues, key).dividers) == 4, "and all of them can be moved"
    drafts.undo(dues, KEY)
    drafts.undo(dues, KEY)
    drafts.undo(dues, KEY)
    key, message = draw(dues, ines, slice(1, 4))
    assert message.startswith("No header was found")
    assert first_column(dues, key) == ["North", "South", "Slipway"]
    tables.row_is_header(dues, at(dues, ines, KEY), 1, key)
    assert first_column(dues, key) == ["South", "Slipway"]
    with pytest.raises(NotDone, match="There is a header here"):
        tables.row_is_header(dues, at(dues, ines, KEY), 1, key)


def test_a_type_with_a_table_only_is_published(dues: Store, ines: SignedIn) -> None:
    with pytest.raises(NotDone, match="without fields and tables"):
        drafts.publish(dues, KEY, "", ines.id)
    key, _ = draw(dues, ines, slice(0, 4))
    assert drafts.publish(dues, KEY, "", ines.id) == 1
    form = card(dues, key).form
    assert (form.ends_after_gap > 0, form.decimals) == (True, ["as_document"] * 4)
    form.ends_after_gap, form.ends_at_words, form.decimals[2] = 0, "South", "point"
    tables.set_table(dues, at(dues, ines, KEY), key, form)
    assert [[shown for shown, _, _ in line.cells] for line in card(dues, key).rows] == [
        ["North", "2026-11-26", "2.62", "41.00"]
    ]  # fmt: skip
    with pytest.raises(NotDone, match="less than or equal to 20"):
        tables.set_table(dues, at(dues, ines, KEY), key, TableForm(**form.model_dump() | {"ends_after_gap": 99}))


@pytest.mark.parametrize("starter", starters())
def test_every_starter_can_be_tried(store: Store, ines: SignedIn, starter: str) -> None:
    sample_of(store, ines, tries_of(starter), "dues.pdf", DUES, keep=lambda name, data: try_starter(
        store, starter, name, data, ines.id
    ))  # fmt: skip
    (tried,) = starter_view(store, starter).tries
    doc_type = load_type(starter)
    assert [value.field for value in tried.values] == [*doc_type.names.values(), *(t.name for t in doc_type.tables)]


def test_the_same_file_is_one_sample(dues: Store, ines: SignedIn) -> None:
    with dues.transaction() as session:
        data = dues.blobs.get(session.get_one(Sample, 1).blob)
    with pytest.raises(NotDone, match=r"dues\.pdf is a sample already, as dues\.pdf\."):
        samples.add_sample(dues, KEY, "dues.pdf", data, ines.id)
    with dues.transaction() as session:
        assert len(samples.proof_samples(dues, session, KEY)) == 1
        assert session.get(Page, 2) is None
