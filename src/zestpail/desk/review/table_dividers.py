"""Column dividers moved by hand on the review desk: the rows are read anew, and the layout is remembered."""

from __future__ import annotations

from collections.abc import Sequence

from zestpail.core.finders import SearchContext
from zestpail.core.reading.document import DocumentReading
from zestpail.core.tables import Grid, Table
from zestpail.core.tables.find import find_table
from zestpail.desk.documents.context import settings_of, type_of
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.remembered_dividers import remember, with_remembered_grids
from zestpail.desk.documents.table_rows import row_for
from zestpail.desk.review.desk import Seen, changing
from zestpail.desk.review.table_edits import BY_HAND
from zestpail.store import Store
from zestpail.store.queries.documents import pages_of
from zestpail.store.states import ValueState
from zestpail.store.tables import Document, TableRow


def move_divider(store: Store, seen: Seen, table_key: str, page: int, at: int, x: float) -> str:
    """Move the ``at``-th divider of the table on a page to ``x`` (points); says how many rows were read anew.

    What is moved on one page holds for all pages with the same header, now and in documents to come.
    """
    with store.transaction() as session:
        document = session.get_one(Document, seen.document_id)
        doc_type = with_remembered_grids(session, type_of(session, document))
        pages = pages_of(session, seen.document_id)
    table = next((one for one in doc_type.tables if one.key == table_key), None)
    if table is None:
        raise Missing("This document type has no such table.")
    grid = _grid(document, table_key, page, at, x)
    reading = DocumentReading(tuple(reading_of(store, one) for one in pages))
    about = [check for check in doc_type.checks if any(key == table_key for key, _ in check.columns)]
    others = tuple(one for one in table.grids if one.header != grid.header)
    changed: Table = table.model_copy(update={"grids": (grid, *others)})
    found = find_table(SearchContext(reading, doc_type.labels, doc_type.landmarks), changed, about)
    with changing(store, seen, "moved a column divider") as change:
        before = change.rows.of(table_key)
        least = settings_of(change.session, change.document).review_others_below
        fresh = [row_for(seen.document_id, table, at, row, least) for at, row in enumerate(found.rows)]
        kept = with_corrections(fresh, before)
        change.rows.remove(*before)
        change.rows.add(*kept)
        change.document.tables = {**change.document.tables, table_key: found.model_copy(update={"rows": ()})}
        remember(change.session, doc_type.key, table_key, grid, seen.person_id)
    return f"{len(found.rows)} rows were read anew; what was corrected stays. The dividers hold for this layout now."


def with_corrections(fresh: list[TableRow], before: Sequence[TableRow]) -> list[TableRow]:
    """The rows as read anew, with the cells that a person had set, and the rows that a person had added."""
    added: list[tuple[int, TableRow]] = []
    for at, old in enumerate(before):
        by_hand = {key: cell for key, cell in old.cells.items() if cell["reason"] == BY_HAND}
        row = next((row for row in fresh if _same_place(row, old)), None)
        if row and by_hand:
            row.cells = {**row.cells, **by_hand}
            doubtful = any(cell["doubtful"] for cell in row.cells.values())
            row.state = ValueState.DOUBTFUL if doubtful else ValueState.SETTLED
        elif row is None and by_hand:
            added.append((at, TableRow(**old.model_dump(exclude={"id"}))))
    for at, row in added:
        fresh.insert(at, row)
    for at, row in enumerate(fresh):
        row.position = at
    return fresh


def _same_place(one: TableRow, other: TableRow) -> bool:
    if one.page is None or one.page != other.page or not one.box or not other.box:
        return False
    middle = (other.box[1] + other.box[3]) / 2
    return bool(one.box[1] <= middle <= one.box[3])


def _grid(document: Document, table_key: str, page: int, at: int, x: float) -> Grid:
    strips = document.tables[table_key].strips if table_key in document.tables else ()
    strip = next((one for one in strips if one.page == page and at < len(one.dividers)), None)
    if strip is None:
        raise Missing("There is no such divider any more.")
    if not strip.header and any(one.header for one in strips):
        raise NotDone("This page has no header line by which the layout could be known; move it on one that has.")
    return strip.moved(at, x)
