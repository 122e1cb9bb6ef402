"""What one step may cost: seconds, after which its process ends, and memory beyond what a worker has by itself.

The clock is the interpreter's own watchdog, which needs no lock: it ends a process also where a library, or a regular
expression, holds the interpreter and nothing else gets a turn. The step is then taken up by others, a few times.
"""

from __future__ import annotations

import faulthandler
import resource
from collections.abc import Callable
from functools import cache, wraps
from pathlib import Path
from typing import ParamSpec, TypeVar

from zestpail.settings import Settings

STDERR = 2
P = ParamSpec("P")
R = TypeVar("R")


def within(times: float) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """A step that may take so many times the seconds of reading a page; where it takes longer, the process ends."""

    def limited(step: Callable[P, R]) -> Callable[P, R]:
        @wraps(step)
        def watched(*given: P.args, **named: P.kwargs) -> R:
            faulthandler.dump_traceback_later(times * _seconds(), exit=True, file=STDERR)
            try:
                return step(*given, **named)
            finally:
                faulthandler.cancel_dump_traceback_later()

        return watched

    return limited


@cache
def _seconds() -> float:
    return Settings().step_seconds


def limit_memory(more: int) -> None:
    """Let the process have so many bytes of addresses more than it has now; what asks for more fails."""
    pages = int(Path("/proc/self/statm").read_text().split()[0])
    most = pages * resource.getpagesize() + more
    _, hard = resource.getrlimit(resource.RLIMIT_AS)
    resource.setrlimit(resource.RLIMIT_AS, (most if hard == resource.RLIM_INFINITY else min(most, hard), hard))
