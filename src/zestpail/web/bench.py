"""The bench: one sample in the middle, every gesture answered with the margins and the proof strip anew."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from zestpail.core.finders.area import Pages
from zestpail.core.reading.geometry import Box
from zestpail.desk import bench, types
from zestpail.desk.bench import At, Pointed
from zestpail.desk.bench_view import bench_view
from zestpail.desk.rule_settings import RuleForm, kinds
from zestpail.desk.sentences import Missing, NotDone
from zestpail.desk.today import status
from zestpail.web.templating import page
from zestpail.web.who import SIGNED_IN, Here, Me

router = APIRouter(prefix="/types", dependencies=SIGNED_IN)

Number = Annotated[int, Form()]
Length = Annotated[float, Form()]
Text = Annotated[str, Form()]
Lines = Annotated[str, Form()]


@router.get("/{key}")
def show(request: Request, desk: Here, key: str, sample: int | None = None, field: str | None = None) -> Response:
    view = bench_view(desk.store, key, sample, field)
    return page(request, "types/bench.html", view=view, kinds=kinds(), status=status(desk.store))


@router.get("/{key}/margins")
def margins(request: Request, desk: Here, key: str, sample: int | None = None, field: str | None = None) -> Response:
    """The margins and the proof strip as they stand now."""
    return _margins(request, desk, key, sample, field)


@router.post("/{key}/point")
def point(
    request: Request, desk: Here, me: Me, key: str, version: Number, sample: Number, page_number: Number, act: Text,
    field: Text = "", numbers: Annotated[list[int] | None, Form()] = None,
    x0: Length = 0, y0: Length = 0, x1: Length = 0, y1: Length = 0,
) -> Response:  # fmt: skip
    """Words clicked on or a box drawn, for a new field, a zone, a landmark, or as the right value of a field."""
    at, box = At(key, version, me.id), Box(min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))
    store, number = desk.store, page_number - 1

    def pointed() -> Pointed:
        return bench.words_at(store, sample, number, numbers) if numbers else bench.box_at(store, sample, number, box)

    def landmark() -> None:
        bench.add_landmark(store, at, sample, number, pointed().box if numbers else box)

    acts: dict[str, Callable[[], str | None]] = {
        "field": lambda: bench.add_field(store, at, pointed()),
        "zone": lambda: bench.add_field(store, at, pointed(), zone=True),
        "landmark": landmark,
        "right": lambda: bench.say_right(store, at, field, pointed()),
    }
    if act not in acts:
        raise Missing("There is no such gesture.")
    return _changed(request, desk, key, sample, field, acts[act])


@router.post("/{key}/fields/{field}/type")
def type_right(
    request: Request, desk: Here, me: Me, key: str, field: str, version: Number, sample: Number, text: Text = ""
) -> Response:
    at = At(key, version, me.id)
    return _changed(request, desk, key, sample, field, lambda: bench.type_right(desk.store, at, sample, field, text))


@router.post("/{key}/fields/{field}/offer")
def offer(
    request: Request, desk: Here, me: Me, key: str, field: str, version: Number, sample: Number, number: Number
) -> Response:
    at = At(key, version, me.id)
    return _changed(request, desk, key, sample, field, lambda: bench.take_offer(desk.store, at, field, sample, number))


@router.post("/{key}/fields/{field}/rule")
def rule(
    request: Request, desk: Here, me: Me, key: str, field: str, version: Number, sample: Number,
    name: Text = "", kind: Text = "code", needed: Annotated[bool, Form()] = False, labels: Lines = "",
    directions: Annotated[list[str] | None, Form()] = None, reach_mm: Length = 150, expression: Text = "",
    examples: Lines = "", pages: Annotated[Pages, Form()] = "any page", under: Text = "", above: Text = "",
    held_to: Annotated[list[str] | None, Form()] = None,
) -> Response:  # fmt: skip
    """All settings of a field's rule."""
    form = RuleForm(
        name=name, kind=kind, needed=needed, labels=labels.splitlines(), directions=directions or [], reach_mm=reach_mm,
        expression=expression, examples=[line.strip() for line in examples.splitlines() if line.strip()],
        pages=pages, under=under, above=above, held_to=held_to or [],
    )  # fmt: skip
    at = At(key, version, me.id)
    return _changed(request, desk, key, sample, field, lambda: bench.set_rule(desk.store, at, field, form))


@router.post("/{key}/fields/{field}/remove")
def remove_field(
    request: Request, desk: Here, me: Me, key: str, field: str, version: Number, sample: Number
) -> Response:
    at = At(key, version, me.id)
    return _changed(request, desk, key, sample, "", lambda: bench.remove_field(desk.store, at, field))


@router.post("/{key}/landmarks/{mark}/remove")
def remove_landmark(
    request: Request, desk: Here, me: Me, key: str, mark: str, version: Number, sample: Number, field: Text = ""
) -> Response:
    at = At(key, version, me.id)
    return _changed(request, desk, key, sample, field, lambda: bench.remove_landmark(desk.store, at, mark))


@router.post("/{key}/confirm")
def confirm(
    request: Request, desk: Here, key: str, cells: Annotated[list[str], Form()], sample: Number = 0, field: Text = ""
) -> Response:
    """Say of values that nobody labelled that they are right: cells as “sample:field”."""
    pairs = [(int(number), name) for cell in cells for number, _, name in [cell.partition(":")] if number.isdigit()]
    return _changed(request, desk, key, sample or None, field, lambda: bench.confirm(desk.store, key, pairs))


@router.post("/{key}/undo")
def undo(request: Request, desk: Here, key: str, sample: Number = 0, field: Text = "") -> Response:
    """Take the draft's last step back."""
    try:
        notice = f"Taken back: {types.take_back(desk.store, key)}."
    except NotDone as problem:
        notice = str(problem)
    return _margins(request, desk, key, sample or None, field, notice)


def _changed(
    request: Request, desk: Here, key: str, sample: int | None, field: str, change: Callable[[], object]
) -> Response:
    """Make the change and show how things then stand; or the reason why it was not made."""
    try:
        outcome = change()
    except Missing:
        raise
    except NotDone as problem:
        return _margins(request, desk, key, sample, field, str(problem))
    return _margins(request, desk, key, sample, outcome if isinstance(outcome, str) else field)


def _margins(
    request: Request, desk: Here, key: str, sample: int | None, field: str | None, notice: str = ""
) -> Response:
    view = bench_view(desk.store, key, sample, field)
    return page(request, "types/margins.html", view=view, kinds=kinds(), notice=notice)
