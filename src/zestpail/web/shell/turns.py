"""Answers that only compute take turns: more of them at once take longer each, as one interpreter works on all."""

from __future__ import annotations

from asyncio import AbstractEventLoop, get_running_loop
from collections.abc import AsyncIterator
from weakref import WeakKeyDictionary

from anyio import CapacityLimiter
from fastapi import Depends

AT_ONCE = 3
"""Twenty-four people on one queue: an edit takes half of the time that it takes with all of them at once."""
_limiters = WeakKeyDictionary[AbstractEventLoop, CapacityLimiter]()
"""One for each loop: a server has one, and a limiter of another loop would wake nobody."""


async def _in_turn() -> AsyncIterator[None]:
    async with _limiters.setdefault(get_running_loop(), CapacityLimiter(AT_ONCE)):
        yield


IN_TURN = [Depends(_in_turn)]
"""For routers whose answers wait for nothing but the database."""
