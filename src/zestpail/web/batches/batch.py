"""One batch: where its pages went."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.batches.batch import batch_view
from zestpail.desk.batches.control_totals import set_control
from zestpail.desk.batches.today import status
from zestpail.desk.delivery.deliveries import deliver_again
from zestpail.desk.types.drafts import types
from zestpail.desk.types.samples import add_from_batch
from zestpail.web.shell.session import SIGNED_IN, Here, Me
from zestpail.web.shell.templating import page

router = APIRouter(prefix="/batches", dependencies=SIGNED_IN)


@router.get("/{batch_id}")
def show(request: Request, desk: Here, batch_id: int) -> Response:
    view = batch_view(desk.store, batch_id)
    return page(request, "batches/batch.html", batch=view, types=types(desk.store), status=status(desk.store))


@router.post("/{batch_id}/documents/{document_id}/sample")
def as_sample(desk: Here, me: Me, document_id: int, type_key: Annotated[str, Form()]) -> Response:
    """Use a document as a sample of a type, and go to its bench."""
    sample = add_from_batch(desk.store, type_key, document_id, me.id)
    return RedirectResponse(f"/types/{type_key}?sample={sample}", status_code=303)


@router.get("/{batch_id}/contents")
def contents(request: Request, desk: Here, batch_id: int) -> Response:
    """The part of the page that changes."""
    return page(request, "batches/contents.html", batch=batch_view(desk.store, batch_id), types=types(desk.store))


@router.post("/{batch_id}/control")
def control(
    desk: Here, me: Me, batch_id: int, documents: Annotated[str, Form()] = "", field: Annotated[str, Form()] = "",
    total: Annotated[str, Form()] = "",
) -> Response:  # fmt: skip
    """What the batch must come to."""
    set_control(desk.store, batch_id, documents, field, total, me.id)
    return RedirectResponse(f"/batches/{batch_id}", status_code=303)


@router.post("/{batch_id}/documents/{document_id}/again")
def again(desk: Here, me: Me, batch_id: int, document_id: int) -> Response:
    """Try a delivery again that did not go through."""
    deliver_again(desk.store, document_id, me.id)
    return RedirectResponse(f"/batches/{batch_id}", status_code=303)
