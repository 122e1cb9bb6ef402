"""Where other systems call to begin a reading: ``POST /calls/LANE``, signed as Standard Webhooks 1.0 has it."""

from __future__ import annotations

from fastapi import FastAPI, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse, Response

from zestpail.api.problems import LATER, problem
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.messages import DATABASE_GONE, NotDone, Unreachable
from zestpail.desk.intake.calls import MOST_BYTES, NotOurs, take_call


def create_calls(desk: Desk) -> FastAPI:
    """The place for this desk, to be mounted."""
    app = FastAPI(title="Zest Pail, calls", docs_url=None, redoc_url=None, openapi_url=None)

    @app.post("/{lane}")
    async def called(lane: str, request: Request) -> Response:
        body = b""
        async for piece in request.stream():
            body += piece
            if len(body) > MOST_BYTES:
                return problem(413, f"A call has {MOST_BYTES} bytes at most.")
        head = {name.lower(): value for name, value in request.headers.items()}
        try:
            begins = await run_in_threadpool(take_call, desk.store, desk.web, lane, body, head)
        except NotOurs as why:
            return problem(401, str(why))
        except NotDone as why:
            return problem(422, str(why))
        except Unreachable:
            return problem(503, DATABASE_GONE, LATER)
        return JSONResponse({"begins": begins}, 202 if begins else 200)

    return app
