"""Answers that only compute take turns: more of them at once take longer each, as one interpreter works on all."""

from __future__ import annotations

from collections.abc import AsyncIterator

from anyio import CapacityLimiter
from fastapi import Depends

AT_ONCE = 3
"""Twenty-four people on one queue: an edit takes half of the time that it takes with all of them at once."""
_limiter = CapacityLimiter(AT_ONCE)


async def _in_turn() -> AsyncIterator[None]:
    async with _limiter:
        yield


IN_TURN = [Depends(_in_turn)]
"""For routers whose answers wait for nothing but the database."""
