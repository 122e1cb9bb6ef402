"""Server-sent events: pages are told what changed and fetch it again."""

from __future__ import annotations

import asyncio
import threading
import time
from collections.abc import AsyncIterator, Callable

import structlog
from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response, StreamingResponse

from zestpail.desk.documents import notices
from zestpail.desk.documents.desk_context import Desk
from zestpail.web.shell.session import SIGNED_IN, still_signed_in
from zestpail.web.shell.templating import place

router = APIRouter(dependencies=SIGNED_IN)
log = structlog.get_logger()
QUIET = 5
"""Seconds after which a comment keeps a silent connection alive."""
STILL_THERE = 5.0
"""Seconds after which it is looked whether the session was ended."""


class Hub:
    """Hands what changed on to everybody who looks on."""

    def __init__(self, stopping: Callable[[], bool]) -> None:
        self._stopping = stopping
        self._loop = asyncio.get_running_loop()
        self._listeners: set[asyncio.Queue[str]] = set()

    def watch(self, desk: Desk, stop: threading.Event) -> None:
        """Follow the store's changes in a thread of its own; after a lost connection, begin again."""
        while not stop.is_set():
            try:
                for topic in notices.changes(desk.store, quiet=1.0):
                    if stop.is_set():
                        return
                    if topic:
                        self._loop.call_soon_threadsafe(self._tell, topic)
            except Exception as problem:
                log.warning("lost touch with the database", problem=str(problem))
                stop.wait(2)

    def _tell(self, topic: str) -> None:
        for listener in self._listeners:
            listener.put_nowait(topic)

    async def topics(self) -> AsyncIterator[str]:
        """Topics as they change; an empty one whenever nothing changed for a while."""
        listener: asyncio.Queue[str] = asyncio.Queue()
        self._listeners.add(listener)
        silent = 0
        try:
            while not self._stopping():
                try:
                    yield await asyncio.wait_for(listener.get(), 1)
                    silent = 0
                except TimeoutError:
                    silent += 1
                    if silent % QUIET == 0:
                        yield ""
        finally:
            self._listeners.discard(listener)


@router.get("/live")
async def live(request: Request) -> StreamingResponse:
    hub: Hub = request.app.state.hub

    async def stream() -> AsyncIterator[str]:
        yield "retry: 2000\n\n"
        looked = time.monotonic()
        async for topic in hub.topics():
            if time.monotonic() - looked > STILL_THERE:
                looked = time.monotonic()
                if not await run_in_threadpool(still_signed_in, request):
                    return
            yield f"data: {topic}\n\n" if topic else ": still here\n\n"

    return StreamingResponse(stream(), media_type="text/event-stream", headers={"x-accel-buffering": "no"})


@router.get("/status")
def status_line(request: Request) -> Response:
    return place(request, "shell/status.html")
