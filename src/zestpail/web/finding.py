"""The search box."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import Response

from zestpail.desk.finding import find_documents
from zestpail.desk.today import status
from zestpail.web.templating import page
from zestpail.web.who import SIGNED_IN, Here

router = APIRouter(dependencies=SIGNED_IN)


@router.get("/find")
def find(request: Request, desk: Here, words: str = "") -> Response:
    found = find_documents(desk.store, words)
    return page(request, "finding/find.html", words=words, found=found, status=status(desk.store))
