"""The bench: one sample in the middle, every gesture answered with the margins and the proof strip anew."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from zestpail.core.document_type.model import TRIES
from zestpail.core.finders.area import PAGES
from zestpail.core.finders.derived.computed import OPERATIONS
from zestpail.core.finders.derived.computed import PARTS as VALUE_PARTS
from zestpail.core.reading.geometry import Box
from zestpail.core.tables.table import MARKS, PARTS
from zestpail.core.writing.value_formats import VALUE_FORMATS
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.types import drafts
from zestpail.desk.types.bench import fields
from zestpail.desk.types.bench.edits import At
from zestpail.desk.types.bench.fields import Pointed
from zestpail.desk.types.bench.landmarks import add_landmark, answer_here
from zestpail.desk.types.bench.rule_settings import kinds
from zestpail.desk.types.bench.tables import (
    add_divider,
    add_table,
    show_row,
)
from zestpail.desk.types.bench.view import bench_view
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page, place

router = APIRouter(prefix="/types", dependencies=AUTHORS)

FORMATS = [(code, f"as {words}" if words[0].isdigit() else words) for code, words in VALUE_FORMATS.items()]
CHOICES: dict[str, Any] = {
    "kinds": kinds(), "formats": FORMATS, "parts": PARTS, "marks": MARKS, "pages_of": PAGES, "tries": TRIES,
    "operations": OPERATIONS, "value_parts": VALUE_PARTS,
}  # fmt: skip
BEFORE_WORDS = 1.5
"""Points left of a clicked word where a divider is put."""
Number = Annotated[int, Form()]
Length = Annotated[float, Form()]
Text = Annotated[str, Form()]


@router.get("/{key}")
def show(request: Request, desk: Here, key: str, sample: int | None = None, field: str | None = None) -> Response:
    view = bench_view(desk.store, key, sample, field)
    return place(
        request,
        "types/bench.html",
        view=view,
        **CHOICES,
    )


@router.get("/{key}/margins")
def margins(
    request: Request, desk: Here, key: str, sample: int | None = None, field: str | None = None, proposing: bool = False
) -> Response:
    """The margins and the proof strip as they stand now."""
    return _margins(request, desk, key, sample, field, proposing=proposing)


@router.post("/{key}/point")
def point(
    request: Request, desk: Here, me: Me, key: str, version: Number, sample: Number, page_number: Number, act: Text,
    field: Text = "", mark: Text = "", numbers: Annotated[list[int] | None, Form()] = None,
    x0: Length = 0, y0: Length = 0, x1: Length = 0, y1: Length = 0,
) -> Response:  # fmt: skip
    """Words clicked on or a box drawn, for a new field, a zone, a landmark, or as the right value of a field."""
    at, box = At(key, version, me.id), Box(min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))
    store, number = desk.store, page_number - 1

    def pointed() -> Pointed:
        return fields.words_at(store, sample, number, numbers) if numbers else fields.box_at(store, sample, number, box)

    def place() -> Box:
        return pointed().box if numbers else box

    def new_column_at() -> float:
        return pointed().box.x0 - BEFORE_WORDS if numbers else box.cx

    acts: dict[str, Callable[[], Done | None]] = {
        "field": lambda: Done(at_hand=fields.add_field(store, at, pointed())),
        "zone": lambda: Done(at_hand=fields.add_field(store, at, pointed(), zone=True)),
        "landmark": lambda: add_landmark(store, at, sample, number, place()),
        "that one": lambda: Done(message=answer_here(store, at, mark, sample, number, place())),
        "table": lambda: Done(*add_table(store, at, sample, number, box)),
        "row": lambda: Done(message=show_row(store, at, sample, field, number, box)),
        "divider": lambda: Done(message=add_divider(store, at, sample, field, number, new_column_at())),
        "right": lambda: fields.say_right(store, at, field, pointed()),
    }
    if act not in acts:
        raise Missing("There is no such gesture.")
    return changed(request, desk, key, sample, field, acts[act])


@router.post("/{key}/fields/{field}/type")
def type_right(
    request: Request, desk: Here, me: Me, key: str, field: str, version: Number, sample: Number, text: Text = ""
) -> Response:
    at = At(key, version, me.id)
    return changed(request, desk, key, sample, field, lambda: fields.type_right(desk.store, at, sample, field, text))


@router.post("/{key}/fields/{field}/offer")
def offer(
    request: Request, desk: Here, me: Me, key: str, field: str, version: Number, sample: Number, number: Number
) -> Response:
    at = At(key, version, me.id)
    return changed(request, desk, key, sample, field, lambda: fields.take_offer(desk.store, at, field, sample, number))


@router.post("/{key}/fields/{field}/remove")
def remove_field(
    request: Request, desk: Here, me: Me, key: str, field: str, version: Number, sample: Number
) -> Response:
    at = At(key, version, me.id)
    return changed(request, desk, key, sample, "", lambda: fields.remove_field(desk.store, at, field))


@router.post("/{key}/confirm")
def confirm(
    request: Request, desk: Here, me: Me, key: str, cells: Annotated[list[str], Form()], sample: Number = 0,
    field: Text = "",
) -> Response:  # fmt: skip
    """Say of values that nobody labelled that they are right: cells as “sample:field”."""
    pairs = [(int(number), name) for cell in cells for number, _, name in [cell.partition(":")] if number.isdigit()]

    def confirm_all() -> None:
        fields.confirm(desk.store, At(key, 0, me.id), pairs)

    return changed(request, desk, key, sample or None, field, confirm_all)


@router.post("/{key}/undo")
def undo(request: Request, desk: Here, key: str, sample: Number = 0, field: Text = "") -> Response:
    """Take the draft's last step back."""
    try:
        notice = f"Taken back: {drafts.undo(desk.store, key)}."
    except NotDone as problem:
        notice = str(problem)
    return _margins(request, desk, key, sample or None, field, notice)


@dataclass(frozen=True)
class Done:
    """What came of a change: the field that is at hand now, if another one, and what is to be said."""

    at_hand: str | None = None
    message: str = ""
    proposing: bool = False


def changed(
    request: Request, desk: Here, key: str, sample: int | None, field: str, change: Callable[[], Done | None]
) -> Response:
    """Make the change and show how things then stand; or the reason why it was not made."""
    try:
        outcome = change()
    except Missing:
        raise
    except NotDone as problem:
        return _margins(request, desk, key, sample, field, str(problem), refused=True)
    outcome = outcome or Done()
    at_hand = field if outcome.at_hand is None else outcome.at_hand
    return _margins(request, desk, key, sample, at_hand, outcome.message, proposing=outcome.proposing)


def _margins(
    request: Request,
    desk: Here,
    key: str,
    sample: int | None,
    field: str | None,
    notice: str = "",
    refused: bool = False,
    proposing: bool = False,
) -> Response:
    view = bench_view(desk.store, key, sample, field, proposing=proposing)
    return page(request, "types/margins.html", view=view, **CHOICES, notice=notice, refused=refused)
