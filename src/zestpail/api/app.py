"""The HTTP API v1, put together: the same use cases as the web. Its description is at ``/api/v1/openapi.json``."""

from __future__ import annotations

import re

from fastapi import Depends, FastAPI
from starlette.routing import Mount

from zestpail.api.caller import Pace, TokenFirst, caller_for
from zestpail.api.description import described
from zestpail.api.documents import documents
from zestpail.api.extraction import extraction
from zestpail.api.lanes import lanes
from zestpail.api.news import what_is_new
from zestpail.api.problems import tell_problems
from zestpail.api.reference import serve_reference
from zestpail.api.types import types
from zestpail.desk.documents.desk_context import Desk

USUAL_PACE = Pace(at_once=300, each_second=50)


def mounted(path: str, app: FastAPI) -> Mount:
    """The application under that path, whatever is asked below it: also what has line breaks in it."""
    found = Mount(path, app)
    found.path_regex = re.compile(found.path_regex.pattern, re.DOTALL)
    return found


def create_api(desk: Desk, pace: Pace = USUAL_PACE) -> FastAPI:
    """The API for this desk, to be mounted; each token may call at this pace."""
    known = Depends(caller_for(desk, pace))
    app = FastAPI(
        title="Zest Pail", version="1", docs_url=None, redoc_url=None, dependencies=[known],
        max_body_size=desk.store.limits.max_bytes + 1_000_000,
        generate_unique_id_function=lambda route: route.name,
    )  # fmt: skip
    for routes in (lanes, extraction, documents, what_is_new, types):
        app.include_router(routes(desk))
    app.openapi = lambda: described(app)  # type: ignore[method-assign]
    app.add_middleware(TokenFirst, desk=desk)
    serve_reference(app)
    tell_problems(app)
    return app
