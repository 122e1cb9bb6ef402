"""The search box."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import Response

from zestpail.desk.archive.search import find_batch, find_documents
from zestpail.desk.batches.today import status
from zestpail.web.shell.session import SIGNED_IN, Here
from zestpail.web.shell.templating import page

router = APIRouter(dependencies=SIGNED_IN)


@router.get("/find")
def find(request: Request, desk: Here, words: str = "") -> Response:
    found, batch = find_documents(desk.store, words), find_batch(desk.store, words)
    return page(request, "archive/search.html", words=words, found=found, batch=batch, status=status(desk.store))
