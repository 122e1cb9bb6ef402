"""One batch: where its pages went."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.batches import batch_view
from zestpail.desk.deliveries import deliver_again
from zestpail.desk.today import status
from zestpail.web.templating import page
from zestpail.web.who import SIGNED_IN, Here, Me

router = APIRouter(prefix="/batches", dependencies=SIGNED_IN)


@router.get("/{batch_id}")
def show(request: Request, desk: Here, batch_id: int) -> Response:
    view = batch_view(desk.store, batch_id)
    return page(request, "batches/batch.html", batch=view, status=status(desk.store))


@router.get("/{batch_id}/contents")
def contents(request: Request, desk: Here, batch_id: int) -> Response:
    """The part of the page that changes."""
    return page(request, "batches/contents.html", batch=batch_view(desk.store, batch_id))


@router.post("/{batch_id}/documents/{document_id}/again")
def again(desk: Here, me: Me, batch_id: int, document_id: int) -> Response:
    """Try a delivery again that did not go through."""
    deliver_again(desk.store, document_id, me.id)
    return RedirectResponse(f"/batches/{batch_id}", status_code=303)
