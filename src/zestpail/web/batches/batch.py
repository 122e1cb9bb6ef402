"""One batch: where its pages went."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import RedirectResponse, Response

from zestpail.desk.batches.batch import batch_view
from zestpail.desk.batches.batch_rows import BatchSearch, find_batches
from zestpail.desk.batches.control_totals import set_control
from zestpail.desk.batches.receipts import receipts_of
from zestpail.desk.batches.workbook import batch_workbook
from zestpail.desk.delivery.delivered_files import delivered_file
from zestpail.desk.delivery.deliveries import deliver_again, deliver_batch_again
from zestpail.desk.delivery.reconciliation import reconciled
from zestpail.desk.delivery.withdrawal import withdraw_batch, withdrawal_of
from zestpail.desk.review.desk import back_to_review
from zestpail.desk.types.drafts import types
from zestpail.desk.types.samples import add_from_batch
from zestpail.web.shell.permissions import AUTHORS, OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import clock, page, place

router = APIRouter(prefix="/batches", dependencies=OPERATORS)
LOOKED_AT = {"content-security-policy": "default-src 'none'; object-src 'self'; style-src 'unsafe-inline'"}
"""A delivered file is shown by the browser's own viewer, and may load nothing."""


@router.get("")
def every(request: Request, desk: Here, me: Me, wanted: Annotated[BatchSearch, Query()]) -> Response:
    """All batches, as they are looked for."""
    found = find_batches(desk.store, wanted, me.closed)
    return place(request, "batches/batches.html", found=found, wanted=wanted)


@router.get("/{batch_id}")
def show(request: Request, desk: Here, batch_id: int) -> Response:
    view = batch_view(desk.store, batch_id)
    return place(request, "batches/batch.html", batch=view, types=types(desk.store))


@router.post("/{batch_id}/documents/{document_id}/sample", dependencies=AUTHORS)
def as_sample(desk: Here, me: Me, document_id: int, type_key: Annotated[str, Form()]) -> Response:
    """Use a document as a sample of a type, and go to its bench."""
    sample = add_from_batch(desk.store, type_key, document_id, me.id)
    return RedirectResponse(f"/types/{type_key}?sample={sample}", status_code=303)


@router.get("/{batch_id}/reconciled")
def reconcile(request: Request, desk: Here, batch_id: int) -> Response:
    """What business systems say now of the batch's records."""
    return page(request, "batches/reconciled.html", found=reconciled(desk.store, desk.web, batch_id), batch_id=batch_id)


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


@router.get("/{batch_id}/withdraw")
def withdrawal(request: Request, desk: Here, batch_id: int) -> Response:
    """What taking the batch back would do, to be confirmed."""
    seen = withdrawal_of(desk.store, batch_id)
    return place(request, "batches/withdraw.html", seen=seen, batch_id=batch_id)


@router.post("/{batch_id}/withdraw")
def take_all_back(desk: Here, me: Me, batch_id: int) -> Response:
    """Everything of the batch is taken out again, and is in review."""
    withdraw_batch(desk.store, batch_id, me.id)
    return RedirectResponse(f"/batches/{batch_id}", status_code=303)


@router.get("/{batch_id}/receipts")
def receipts(request: Request, desk: Here, batch_id: int) -> Response:
    """All receipts of the batch on one page, to be printed."""
    found = reconciled(desk.store, desk.web, batch_id)
    return place(
        request, "batches/receipts.html", batch=batch_view(desk.store, batch_id), found=found,
        receipts=receipts_of(desk.store, batch_id), asked=clock(datetime.now().astimezone()),
    )  # fmt: skip


@router.post("/{batch_id}/again")
def all_again(desk: Here, me: Me, batch_id: int) -> Response:
    """Try all deliveries of the batch again that did not go through."""
    deliver_batch_again(desk.store, batch_id, me.id)
    return RedirectResponse(f"/batches/{batch_id}", status_code=303)


@router.post("/{batch_id}/documents/{document_id}/correct")
def correct(desk: Here, me: Me, document_id: int) -> Response:
    """Open a delivered document again; what is then delivered is a new version."""
    back_to_review(desk.store, document_id, me.id)
    return RedirectResponse(f"/review/{document_id}", status_code=303)


@router.get("/{batch_id}/documents/{document_id}/delivered/{number}")
def delivered(desk: Here, document_id: int, number: int, save: bool = False) -> Response:
    """A file as it was delivered, to be looked at or saved."""
    file = delivered_file(desk.store, document_id, number)
    kind = "attachment" if save else "inline"
    name = {"content-disposition": f"{kind}; filename*=UTF-8''{quote(file.name)}"}
    media = "application/json" if file.name.endswith(".json") else "application/pdf"
    return Response(file.data, media_type=media, headers={**name, **LOOKED_AT})


@router.get("/{batch_id}/sheet")
def as_sheet(desk: Here, batch_id: int) -> Response:
    """All documents of the batch in one workbook."""
    name = {"content-disposition": f'attachment; filename="batch-{batch_id}.xlsx"'}
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return Response(batch_workbook(desk.store, batch_id), media_type=kind, headers=name)
