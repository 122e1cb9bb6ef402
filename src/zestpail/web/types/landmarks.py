"""Landmarks at the bench: answered for, dialled, taken out."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from zestpail.desk.types.bench import landmarks
from zestpail.desk.types.bench.edits import At
from zestpail.web.shell.permissions import AUTHORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import page
from zestpail.web.types.bench import Done, changed

router = APIRouter(prefix="/types", dependencies=AUTHORS)

Number = Annotated[int, Form()]
Text = Annotated[str, Form()]


@router.get("/{key}/landmarks/{mark}")
def show_dial(request: Request, desk: Here, key: str, mark: str) -> Response:
    """The landmark's dial with what falls on either side of it."""
    return page(request, "types/dial.html", dial=landmarks.dial(desk.store, key, mark))


@router.post("/{key}/landmarks/{mark}/answer")
def answer(
    request: Request, desk: Here, me: Me, key: str, mark: str, version: Number, sample: Number, reply: Text,
    field: Text = "",
) -> Response:  # fmt: skip
    """Yes, this; or it is not on this sample."""
    at = At(key, version, me.id)
    return changed(
        request, desk, key, sample, field, lambda: Done(message=landmarks.answer(desk.store, at, mark, sample, reply))
    )


@router.post("/{key}/landmarks/{mark}/dial")
def set_dial(
    request: Request, desk: Here, me: Me, key: str, mark: str, version: Number, sample: Number,
    alike: Annotated[float, Form()], wordings: Text = "", field: Text = "",
) -> Response:  # fmt: skip
    at, words = At(key, version, me.id), wordings.splitlines()
    return changed(request, desk, key, sample, field, lambda: landmarks.set_dial(desk.store, at, mark, alike, words))


@router.post("/{key}/landmarks/{mark}/remove")
def remove(
    request: Request, desk: Here, me: Me, key: str, mark: str, version: Number, sample: Number, field: Text = ""
) -> Response:
    at = At(key, version, me.id)
    return changed(request, desk, key, sample, field, lambda: landmarks.remove_landmark(desk.store, at, mark))
