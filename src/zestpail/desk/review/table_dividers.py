"""Column dividers moved by hand on the review desk: the rows are read anew, and the layout is remembered."""

from __future__ import annotations

from zestpail.core.finders import Ground
from zestpail.core.reading.document import DocumentReading
from zestpail.core.tables import Grid, Table
from zestpail.core.tables.find import found_table
from zestpail.core.tables.found import Strip
from zestpail.desk.documents.context import lane_of, letter_of, type_of
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.remembered_dividers import remember, with_remembered_grids
from zestpail.desk.documents.table_rows import forget_rows, row_for, rows_of
from zestpail.desk.review.desk import Seen, changing
from zestpail.store import Store
from zestpail.store.queries.documents import pages_of
from zestpail.store.tables import Document


def move_divider(store: Store, seen: Seen, table_key: str, page: int, at: int, x: float) -> str:
    """Move the ``at``-th divider of the table on a page to ``x`` (points); says how many rows were read anew.

    What is moved on one page holds for all pages with the same header, now and in documents to come.
    """
    with store.transaction() as session:
        document = session.get_one(Document, seen.document_id)
        kind = with_remembered_grids(session, type_of(session, document))
        pages = pages_of(session, seen.document_id)
    table = next((one for one in kind.tables if one.key == table_key), None)
    if table is None:
        raise Missing("This document type has no such table.")
    grid = _grid(document, table_key, page, at, x)
    reading = DocumentReading(tuple(reading_of(store, one) for one in pages))
    about = [check for check in kind.checks if any(key == table_key for key, _ in check.columns)]
    others = tuple(one for one in table.grids if one.head != grid.head)
    changed: Table = table.model_copy(update={"grids": (grid, *others)})
    found = found_table(Ground(reading, kind.labels, kind.landmarks), changed, about)
    with changing(store, seen, "moved a column divider") as change:
        for row in rows_of(change.session, seen.document_id):
            if row.table == table_key:
                change.session.delete(row)
        forget_rows(change.session)
        least = letter_of(lane_of(change.session, change.document)).review_others_below
        for number, one in enumerate(found.rows):
            change.session.add(row_for(seen.document_id, table, number, one, least))
        forget_rows(change.session)
        about_it = found.model_dump(mode="json", include={"strips", "left_out", "rows_begin"})
        change.document.tables = {**change.document.tables, table_key: about_it}
        remember(change.session, kind.key, table_key, grid, seen.person_id)
    return f"{len(found.rows)} rows were read anew. The dividers hold for this layout from now on."


def _grid(document: Document, table_key: str, page: int, at: int, x: float) -> Grid:
    strips = [Strip.model_validate(strip) for strip in document.tables.get(table_key, {}).get("strips", [])]
    strip = next((one for one in strips if one.page == page and at < len(one.dividers)), None)
    if strip is None:
        raise Missing("There is no such divider any more.")
    if not strip.head:
        raise NotDone("This page has no header line by which the layout could be known; move it on one that has.")
    return strip.moved(at, x)
