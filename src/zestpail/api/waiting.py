"""Requests that wait for something to happen hold no thread meanwhile."""

from __future__ import annotations

import asyncio
import time
from collections.abc import Callable
from typing import Annotated, TypeVar

from fastapi import Query
from fastapi.concurrency import run_in_threadpool

MOST_WAIT = 60.0
"""Seconds that a request waits at most."""
Wait = Annotated[float, Query(description="Seconds to wait.", ge=0, le=MOST_WAIT, examples=[30])]
_T = TypeVar("_T")


async def waited(ask: Callable[[], _T], is_there: Callable[[_T], bool], seconds: float, pause: float) -> _T:
    """What ``ask`` answers, as soon as ``is_there`` says so, or after so many seconds; asked again after each pause."""
    until = time.monotonic() + seconds
    found = await run_in_threadpool(ask)
    while not is_there(found) and time.monotonic() < until:
        await asyncio.sleep(pause)
        found = await run_in_threadpool(ask)
    return found
