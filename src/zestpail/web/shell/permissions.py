"""What somebody may see and do: by role for each place, by lane for what lies in it.

Every router names who may use it. Lanes that are limited to other people are told by the names that places have in
addresses (``batch_id``, ``document_id``, …), so that no page can forget to look.
"""

from __future__ import annotations

from typing import Any

from fastapi import Depends, Request
from fastapi.concurrency import run_in_threadpool

from zestpail.desk.documents import seeing
from zestpail.desk.documents.signed_in import Role, SignedIn, must_be
from zestpail.web.shell.session import Me, desk_of

IN_LANES = ("batch_id", "document_id", "page_id", "file_id", "scan_id")
"""Names of places in addresses that lie in a lane."""


def needs(*roles: Role) -> list[Any]:
    """For routers that people of any of these roles may use."""

    async def allowed(request: Request, me: Me) -> None:
        must_be(me, *roles)
        if me.closed:
            await run_in_threadpool(_sees, request, me)

    return [Depends(allowed)]


def _sees(request: Request, me: SignedIn) -> None:
    """Raises Missing where the address leads into a lane that is limited to other people."""
    store, named = desk_of(request).store, request.path_params
    if request.url.path.startswith("/lanes/") and "key" in named:
        seeing.see_lane(store, named["key"], me.closed)
    for what in IN_LANES:
        if what in named and str(named[what]).isdecimal():
            seeing.see(store, what, int(named[what]), me.closed)


def _sees_page(request: Request, me: Me) -> None:
    """Pages of documents are for whoever works on them, those of samples for whoever sets up types."""
    number = str(request.path_params.get("page_id", ""))
    if number.isdecimal() and not me.author and seeing.is_of_sample(desk_of(request).store, int(number)):
        must_be(me, Role.AUTHOR)


OPERATORS, AUTHORS, ADMINISTRATORS = needs(Role.OPERATOR), needs(Role.AUTHOR), needs(Role.ADMINISTRATOR)
PAGES = [*needs(Role.OPERATOR, Role.AUTHOR, Role.ADMINISTRATOR), Depends(_sees_page)]
