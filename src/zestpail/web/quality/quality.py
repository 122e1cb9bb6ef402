"""How right the reading is: all types, and one type field by field."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import Response

from zestpail.desk.quality.view import as_csv, quality_of, quality_of_all, tested_of
from zestpail.web.quality.drawing import reliability
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place

router = APIRouter(prefix="/quality", dependencies=AUTHORS)


@router.get("")
def listed(request: Request, desk: Here, me: Me) -> Response:
    return place(request, "quality/types.html", lines=quality_of_all(desk.store, me.closed))


@router.get("/{key}/tested")
def on_samples(request: Request, desk: Here, key: str) -> Response:
    """How much of a type's test samples is read rightly, for its row in the list."""
    return page(request, "quality/tested.html", tested=tested_of(desk.store, key))


@router.get("/{key}/fields.csv")
def table(desk: Here, me: Me, key: str, state: str = "", against: str = "", lane: str = "") -> Response:
    """The figures of all fields for other programs."""
    text = as_csv(quality_of(desk.store, key, me.closed, state, against, lane))
    headers = {"content-disposition": f'attachment; filename="quality-{key}.csv"'}
    return Response(text, media_type="text/csv; charset=utf-8", headers=headers)


@router.get("/{key}")
def show(
    request: Request, desk: Here, me: Me, key: str, state: str = "", against: str = "", lane: str = ""
) -> Response:
    """One type in a state against another, on test samples and in daily work."""
    view = quality_of(desk.store, key, me.closed, state, against, lane)
    return place(
        request, "quality/type.html", view=view,
        drawings=[("Test samples", reliability(view.tested_bins)), ("Daily work", reliability(view.daily_bins))],
    )  # fmt: skip
