"""Tables at the bench: drawn, named, divided, a row shown; every edit is judged on all samples."""

from __future__ import annotations

from collections.abc import Iterable

from pydantic import BaseModel, TypeAdapter, ValidationError

from zestpail.core.document_type import DocumentType
from zestpail.core.evaluation.proof import tables_on
from zestpail.core.finders import SearchContext
from zestpail.core.kinds import AnyKind, OneLine, style_of
from zestpail.core.reading.geometry import Box
from zestpail.core.tables import Column, Grid, Table
from zestpail.core.tables.find import body_on
from zestpail.core.tables.found import Strip
from zestpail.core.teaching.field_proposal import key_for
from zestpail.core.teaching.table_proposal import propose_table, shown_way
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.remembered_dividers import remembered_grids
from zestpail.desk.types.bench.edits import At, document_at, write
from zestpail.desk.types.drafts import draft_type
from zestpail.store import Store

_KIND: TypeAdapter[AnyKind] = TypeAdapter(AnyKind)


class TableForm(BaseModel):
    """The settings of a table; lists go column by column, the last entry being a column that is added."""

    name: str = ""
    ends_at: str = ""
    ends_at_words: str = ""
    """One wording a line."""
    ends_after_gap: float = 0
    leave_out: str = ""
    """One wording a line."""
    rows: str = "as they are"
    """Or "seen on each page" to forget a row that was shown."""
    column: list[str] = []
    """Keys; empty for the one to be added."""
    called: list[str] = []
    kind: list[str] = []
    headers: list[str] = []
    """Wordings with | between."""
    of: list[str] = []
    part: list[str] = []
    decimals: list[str] = []
    needed: list[str] = []
    """Keys of the columns that must be there."""
    drop: list[str] = []
    """Keys of the columns that are taken out."""


def add_table(store: Store, at: At, sample_id: int, page: int, box: Box) -> tuple[str, str]:
    """A table for what was drawn round; returns its key, and what was taken for its header.

    Raises NotDone where nothing stands in columns there.
    """
    doc_type, document = draft_type(store, at.key), document_at(store, sample_id)
    if not 0 <= page < len(document.pages):
        raise Missing("The sample has no such page.")
    taken = [*doc_type.names, *(table.key for table in doc_type.tables)]
    table = propose_table(document, page, box, taken, style_of(document.lines))
    if table is None:
        raise NotDone("Nothing stands in columns there. Draw round the whole table, its header line too.")
    columns = ", ".join(column.name for column in table.columns)
    write(store, at, doc_type.model_copy(update={"tables": (*doc_type.tables, table)}), f"added a table with {columns}")
    headers = " ".join(header for column in table.columns for header in column.headers)
    if headers:
        return table.key, f"“{headers[:60]}” was taken for the header. If it is a row, say so on the table’s card."
    return table.key, "No header was found: the first line is a row. Name the columns under Columns and settings."


def show_row(store: Store, at: At, sample_id: int, key: str, page: int, box: Box) -> str:
    """Rows are as the one drawn round; says what makes a row begin. Raises NotDone where nothing tells it apart."""
    doc_type, document = draft_type(store, at.key), document_at(store, sample_id)
    table = _table(doc_type, key)
    free = table.model_copy(update={"rows_begin": None})
    about = [check for check in doc_type.checks if any(name == key for name, _ in check.columns)]
    body = body_on(SearchContext(document, doc_type.labels, doc_type.landmarks), free, page, about)
    rules = document.pages[page].rules if 0 <= page < len(document.pages) else ()
    shown = shown_way(body, rules, table, box)
    if shown is None:
        raise NotDone("No way of telling rows apart makes just that one row. Draw round one whole row of the table.")
    way, count = shown
    message = way.sentence(table.names)
    _write(store, at, doc_type, table.model_copy(update={"rows_begin": way}), f"{table.name}: {message}")
    return f"On this page {message}: {count} rows. It holds on all samples."


def divide(store: Store, at: At, sample_id: int, key: str, page: int, number: int, x: float) -> None:
    """Move a divider for the layout of this sample, which is known again by its header line."""
    doc_type, strip = _strip_at(store, at, sample_id, key, page, number)
    message = f"moved a divider of {_table(doc_type, key).name} for {_layout(strip.header)}"
    _write(store, at, doc_type, _with_grid(_table(doc_type, key), strip.moved(number, x)), message)


def join_columns(store: Store, at: At, sample_id: int, key: str, page: int, number: int) -> None:
    """Take a divider away on this layout: what stood right of it belongs to the column on its left."""
    doc_type, strip = _strip_at(store, at, sample_id, key, page, number)
    message = f"took a divider out of {_table(doc_type, key).name} for {_layout(strip.header)}"
    _write(store, at, doc_type, _with_grid(_table(doc_type, key), strip.joined(number)), message)


def add_divider(store: Store, at: At, sample_id: int, key: str, page: int, x: float) -> str:
    """A divider more where it was clicked: right of it a new column begins. Raises NotDone."""
    doc_type, strip = _strip_at(store, at, sample_id, key, page)
    table = _table(doc_type, key)
    new = key_for(f"Column {len(table.columns) + 1}", [column.key for column in table.columns])
    grid = strip.divided(x, new)
    if grid is None:
        raise NotDone("A divider stands there already, or that is beside the table. Click between two dividers.")
    column = Column(key=new, name=f"Column {len(table.columns) + 1}", kind=OneLine())
    left = strip.columns[grid.columns.index(new) - 1]
    place = next((n for n, one in enumerate(table.columns, start=1) if one.key == left), len(table.columns))
    columns = (*table.columns[:place], column, *table.columns[place:])
    changed = _with_grid(table.model_copy(update={"columns": columns}), grid)
    _write(store, at, doc_type, changed, f"{table.name}: a new column right of a divider")
    return f"{column.name} begins at the new divider. Name it and choose what it holds under Columns and settings."


def take_over_dividers(store: Store, at: At, key: str, number: int) -> None:
    """Take dividers that were moved in review into the type; ``number`` counts :func:`offered_grids`, from 1."""
    doc_type = draft_type(store, at.key)
    table = _table(doc_type, key)
    with store.transaction() as session:
        offered = offered_grids(table, remembered_grids(session, at.key).get(key, ()))
    if not 1 <= number <= len(offered):
        raise Missing("These dividers are not offered any more.")
    grid = offered[number - 1]
    message = f"took over the dividers of {_layout(grid.header)} from review"
    _write(store, at, doc_type, _with_grid(table, grid), message)


def offered_grids(table: Table, remembered: Iterable[Grid]) -> list[Grid]:
    """Of the dividers that were moved in review, those that the type does not hold yet and has the columns for."""
    return [grid for grid in remembered if grid not in table.grids and set(grid.columns) <= {"", *table.names}]


def document_strips(doc_type: DocumentType, key: str, sample_id: int, store: Store) -> tuple[Strip, ...]:
    """Where the table lies on a sample."""
    found = next((t for t in tables_on(doc_type, document_at(store, sample_id)) if t.key == key), None)
    return found.strips if found else ()


def set_table(store: Store, at: At, key: str, form: TableForm) -> None:
    """Change a table's settings. Raises NotDone with a sentence for settings that cannot be."""
    doc_type = draft_type(store, at.key)
    table = _table(doc_type, key)
    name = " ".join(form.name.split())
    if not name:
        raise NotDone("A table needs a name.")
    try:
        columns = _columns(table, form)
        if not columns:
            raise NotDone("A table needs a column; remove the table instead.")
        keys = {column.key for column in columns}
        begin = table.rows_begin
        if form.rows == "seen on each page" or (begin and begin.column and begin.column not in keys):
            begin = None
        changed = Table.model_validate({
            **table.model_dump(), "name": name, "columns": columns, "ends_at": form.ends_at,
            "ends_at_words": _wordings(form.ends_at_words), "ends_after_gap": form.ends_after_gap,
            "leave_out": _wordings(form.leave_out),
            "rows_begin": begin, "grids": tuple(_without(grid, keys) for grid in table.grids),
        })  # fmt: skip
    except ValidationError as error:
        raise NotDone(f"Not possible: {error.errors()[0]['msg'].removeprefix('Value error, ')}.") from error
    gone = {(key, column.key) for column in table.columns} - {(key, column.key) for column in columns}
    checks = tuple(check for check in doc_type.checks if not gone & set(check.columns))
    _write(store, at, doc_type.model_copy(update={"checks": checks}), changed, f"changed the table {name}")


def remove_table(store: Store, at: At, key: str) -> None:
    """Take a table and its checks out."""
    doc_type = draft_type(store, at.key)
    gone = _table(doc_type, key)
    checks = tuple(check for check in doc_type.checks if all(table != key for table, _ in check.columns))
    tables = tuple(table for table in doc_type.tables if table.key != key)
    write(store, at, doc_type.model_copy(update={"tables": tables, "checks": checks}), f"removed the table {gone.name}")


def header_is_row(store: Store, at: At, sample_id: int, key: str) -> str:
    """What was taken for the header is the first row: columns have numbers for names, and the layout no header."""
    doc_type, strip = _strip_at(store, at, sample_id, key)
    table = _table(doc_type, key)
    if not strip.header:
        raise NotDone("Nothing was taken for a header here.")
    grid = strip.grid.model_copy(update={"header": "", "right": round(strip.box.x1 - strip.left, 1)})
    columns = tuple(
        column.model_copy(update={"headers": (), "name": f"Column {number}" if column.headers else column.name})
        for number, column in enumerate(table.columns, start=1)
    )
    changed = table.model_copy(update={"columns": columns, "grids": (grid,), "rows_begin": None})
    _write(store, at, doc_type, changed, f"{table.name}: the first line is a row, not a header")
    return "The first line is a row now. Name the columns under Columns and settings."


def row_is_header(store: Store, at: At, sample_id: int, key: str) -> str:
    """The first row is the header: it names the columns, here and on pages to come."""
    doc_type, strip = _strip_at(store, at, sample_id, key)
    table = _table(doc_type, key)
    found = next(t for t in tables_on(doc_type, document_at(store, sample_id)) if t.key == key)
    if strip.header or not found.rows:
        raise NotDone("There is a header here, or no row.")
    texts = {name: " ".join(cell.raw.split()) for name, cell in found.rows[0].cells.items()}
    columns = tuple(
        column.model_copy(update={"headers": (text,), "name": text.capitalize()}) if text else column
        for column in table.columns
        for text in (texts.get(column.key, ""),)
    )
    header = " ".join(text for key in strip.columns if (text := texts.get(key, "")))
    grid = strip.grid.model_copy(update={"header": header, "left": found.rows[0].box.x0})
    moved = tuple(round(divider - grid.left, 1) for divider in strip.dividers)
    grid = grid.model_copy(update={"dividers": moved})
    changed = table.model_copy(update={"columns": columns, "grids": (grid,)})
    _write(store, at, doc_type, changed, f"{table.name}: the first line is the header")
    return "The first line names the columns now."


def _wordings(lines: str) -> tuple[str, ...]:
    return tuple(line.strip() for line in lines.splitlines() if line.strip())


def _columns(table: Table, form: TableForm) -> tuple[Column, ...]:
    columns: list[Column] = []
    taken = [column.key for column in table.columns]
    for number, called in enumerate(form.called):
        key = form.column[number] if number < len(form.column) else ""
        if not called.strip() or key in form.drop:
            continue
        new = not key
        key = key or key_for(called, taken)
        wordings = form.headers[number].split("|") if number < len(form.headers) else []
        of = form.of[number] if number < len(form.of) else ""
        columns.append(Column.model_validate({
            "key": key, "name": " ".join(called.split()), "of": of if of not in form.drop else "",
            "kind": _KIND.validate_python({"kind": form.kind[number]}),
            "headers": tuple(w.strip() for w in wordings if w.strip()),
            "needed": key in form.needed and not new,
            "part": form.part[number] if number < len(form.part) and of else "",
            "decimals": form.decimals[number] if number < len(form.decimals) else "as_document",
        }))  # fmt: skip
    return tuple(columns)


def _without(grid: Grid, keys: set[str]) -> Grid:
    """The grid, leaving out what stood in columns that are gone."""
    return grid.model_copy(update={"columns": tuple(key if key in keys else "" for key in grid.columns)})


def _strip_at(
    store: Store, at: At, sample_id: int, key: str, page: int = -1, number: int = -1
) -> tuple[DocumentType, Strip]:
    """The draft, and where its table lies on a page of a sample; page -1 for the first. Raises Missing."""
    doc_type = draft_type(store, at.key)
    _table(doc_type, key)
    strips = document_strips(doc_type, key, sample_id, store)
    strip = next((one for one in strips if page in (-1, one.page) and number < len(one.dividers)), None)
    if strip is None:
        raise Missing(f"{doc_type.name} has no such divider any more.")
    return doc_type, strip


def _with_grid(table: Table, grid: Grid) -> Table:
    """The table with these dividers for their layout."""
    others = tuple(one for one in table.grids if one.header != grid.header)
    return table.model_copy(update={"grids": (grid, *others)})


def _layout(header: str) -> str:
    return f"the layout “{header[:40]}”" if header else "the layout without a header"


def _table(doc_type: DocumentType, key: str) -> Table:
    try:
        return doc_type.table(key)
    except KeyError as problem:
        raise Missing("There is no such table; it may have been taken out.") from problem


def _write(store: Store, at: At, doc_type: DocumentType, table: Table, message: str) -> None:
    tables = tuple(table if one.key == table.key else one for one in doc_type.tables)
    write(store, at, doc_type.model_copy(update={"tables": tables}), message)
