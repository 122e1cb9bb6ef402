"""The batch sheet and the wall: many documents at once, of a batch or of a lane's queue."""

from collections.abc import Callable
from typing import Annotated, Literal

from fastapi import APIRouter, Body, Depends, Query, Request
from fastapi.responses import Response
from pydantic import BaseModel

from zestpail.desk.documents.seeing import see, see_lane
from zestpail.desk.review import batch_sheet, sheet_changes
from zestpail.desk.review.batch_sheet import Scope, Sheet
from zestpail.desk.review.sheet_changes import CellChange, Changed
from zestpail.desk.review.wall import wall_of
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place

router = APIRouter(prefix="/sheets", dependencies=OPERATORS)
Versions = dict[int, int]
MEDIA = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}


class Seen(BaseModel):
    """Documents as the page shows them, by their versions."""

    versions: Versions


class Wanted(BaseModel):
    """What is seen, to be exported."""

    ids: list[int]
    keys: list[str]
    form: Literal["xlsx", "csv"] = "xlsx"


def _batch(batch_id: int) -> Scope:
    return Scope(batch=batch_id)


def _queue(desk: Here, me: Me, lane: str = "") -> Scope:
    """What waits for review, of one lane or of all."""
    if lane:
        see_lane(desk.store, lane, me.closed)
    return Scope(lane=lane, closed=me.closed)


def _routes(path: str, scope_of: Callable[..., Scope]) -> None:
    """A sheet of one kind: its page, its rows, those that changed since they were seen, and its wall."""
    Where = Annotated[Scope, Depends(scope_of)]

    @router.get(path)
    def sheet(request: Request, scope: Where) -> Response:
        return place(request, "sheet/sheet.html", scope=scope, at=_at(scope))

    @router.get(f"{path}/rows")
    def rows(desk: Here, me: Me, scope: Where) -> Sheet:
        return batch_sheet.sheet_of(desk.store, scope, me.id)

    @router.post(f"{path}/rows")
    def again(desk: Here, me: Me, scope: Where, seen: Annotated[Seen, Body()]) -> Sheet:
        _may_see(desk, me, list(seen.versions))
        return batch_sheet.sheet_again(desk.store, scope, seen.versions, me.id)

    @router.get(f"{path}/wall")
    def wall(request: Request, desk: Here, me: Me, scope: Where, field: str = "") -> Response:
        shown = wall_of(desk.store, batch_sheet.sheet_of(desk.store, scope, me.id), field)
        return place(request, "sheet/wall.html", wall=shown, scope=scope, at=_at(scope))


_routes("/batch/{batch_id}", _batch)
_routes("/queue", _queue)


@router.post("/changes")
def change(desk: Here, me: Me, changes: Annotated[list[CellChange], Body()]) -> Changed:
    _may_see(desk, me, [one.document for one in changes])
    return sheet_changes.change_cells(desk.store, changes, me.id)


@router.post("/undo")
def undo(desk: Here, me: Me, seen: Annotated[Seen, Body()]) -> Changed:
    _may_see(desk, me, list(seen.versions))
    return sheet_changes.undo_rows(desk.store, seen.versions, me.id)


@router.post("/settle")
def settle(desk: Here, me: Me, seen: Annotated[Seen, Body()]) -> Changed:
    """Settle documents in which nothing is doubtful any more."""
    _may_see(desk, me, list(seen.versions))
    return sheet_changes.settle_rows(desk.store, seen.versions, me.id)


@router.post("/export")
def export(desk: Here, me: Me, wanted: Annotated[Wanted, Body()]) -> Response:
    """What is seen, as a file."""
    _may_see(desk, me, wanted.ids)
    data = batch_sheet.exported(desk.store, wanted.ids, wanted.keys, wanted.form)
    headers = {"content-disposition": f'attachment; filename="batch-sheet.{wanted.form}"'}
    return Response(data, media_type=MEDIA[wanted.form], headers=headers)


@router.get("/documents/{document_id}/cell")
def cell(request: Request, desk: Here, document_id: int, key: Annotated[str, Query()] = "") -> Response:
    """A cell looked at closely: its snippet, and why it is doubtful."""
    return page(request, "sheet/cell.html", cell=batch_sheet.cell_view(desk.store, document_id, key))


@router.get("/documents/{document_id}/page")
def paper(request: Request, desk: Here, document_id: int, key: Annotated[str, Query()] = "") -> Response:
    """The page on which a cell's value stands."""
    return page(request, "sheet/page.html", cell=batch_sheet.cell_view(desk.store, document_id, key))


def _may_see(desk: Here, me: Me, documents: list[int]) -> None:
    for number in dict.fromkeys(documents) if me.closed else ():
        see(desk.store, "document_id", number, me.closed)


def _at(scope: Scope) -> str:
    return f"/sheets/batch/{scope.batch}" if scope.batch else "/sheets/queue"
