"""The settings of rules at the bench: of one field, of how one is worked out, of checks over several."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from zestpail.desk.types.bench import fields
from zestpail.desk.types.bench.checks import add_check, remove_check
from zestpail.desk.types.bench.computed_fields import ComputedForm, compute
from zestpail.desk.types.bench.edits import At
from zestpail.web.shell.forms import Sent
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.types.bench import Done, changed

router = APIRouter(prefix="/types", dependencies=AUTHORS)


class ComputedGesture(ComputedForm):
    """How a field is worked out, and what was seen."""

    version: int
    sample: int
    key: str = ""


@router.post("/{key}/fields/{field}/rule")
def rule(
    request: Request, desk: Here, me: Me, key: str, field: str, form: Sent, version: Annotated[int, Form()],
    sample: Annotated[int, Form()],
) -> Response:  # fmt: skip
    """All settings of a field's rule."""
    at = At(key, version, me.id)
    return changed(request, desk, key, sample, field, lambda: fields.set_rule(desk.store, at, field, form))


@router.post("/{key}/compute")
def work_out(request: Request, desk: Here, me: Me, key: str, form: Annotated[ComputedGesture, Form()]) -> Response:
    """A field that is worked out from others: a new one, or the one of that key in another way."""
    at = At(key, form.version, me.id)
    return changed(
        request, desk, key, form.sample, form.key, lambda: Done(at_hand=compute(desk.store, at, form, form.key))
    )


@router.post("/{key}/checks")
def check(
    request: Request, desk: Here, me: Me, key: str, form: Sent, version: Annotated[int, Form()],
    sample: Annotated[int, Form()], field: Annotated[str, Form()] = "",
) -> Response:  # fmt: skip
    """A check over several fields."""
    at = At(key, version, me.id)
    return changed(request, desk, key, sample, field, lambda: add_check(desk.store, at, form))


@router.post("/{key}/checks/{number}/remove")
def uncheck(
    request: Request, desk: Here, me: Me, key: str, number: int, version: Annotated[int, Form()],
    sample: Annotated[int, Form()], field: Annotated[str, Form()] = "",
) -> Response:  # fmt: skip
    at = At(key, version, me.id)
    return changed(request, desk, key, sample, field, lambda: remove_check(desk.store, at, number))
