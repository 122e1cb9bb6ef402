"""The search box."""

from __future__ import annotations

from fastapi import APIRouter, Request
from fastapi.responses import Response

from zestpail.desk.archive.search import find_batch, find_documents
from zestpail.web.shell.permissions import OPERATORS
from zestpail.web.shell.session import Here, Me
from zestpail.web.shell.templating import place

router = APIRouter(dependencies=OPERATORS)


@router.get("/find")
def find(request: Request, desk: Here, me: Me, words: str = "") -> Response:
    found, batch = find_documents(desk.store, words, me.closed), find_batch(desk.store, words, me.closed)
    return place(request, "archive/search.html", words=words, found=found, batch=batch)
