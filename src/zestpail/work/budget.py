"""What one step may cost: seconds, those of a processor, memory beyond what a worker has by itself, and output.

A step that takes longer ends with its process. Seconds are watched by the interpreter's own watchdog, which needs no
lock: it ends a process also where a library, or a regular expression, holds the interpreter and nothing else gets a
turn. Seconds of a processor are watched by the kernel (``RLIMIT_CPU``). The step is then taken up by others, once.
"""

from __future__ import annotations

import faulthandler
import math
import os
import resource
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import wraps
from pathlib import Path
from typing import Concatenate, ParamSpec

from procrastinate import JobContext

from zestpail.desk.documents.messages import Busy, Unreachable
from zestpail.desk.documents.standing import mark_of, step_broke
from zestpail.work.here import here

STDERR = 2
P = ParamSpec("P")
Step = Callable[Concatenate[JobContext, P], None]


def within(times: float) -> Callable[[Step[P]], Step[P]]:
    """A step that may take so many times what reading a page may; where it takes more, the process ends."""

    def limited(step: Step[P]) -> Step[P]:
        @wraps(step)
        def watched(context: JobContext, /, *given: P.args, **named: P.kwargs) -> None:
            job_id = context.job.id or 0
            with _known_to_be_at(job_id), _watched(times):
                try:
                    step(context, *given, **named)
                except (Unreachable, Busy):  # not its own fault
                    raise
                except Exception:
                    step_broke(here()[1], job_id, ended=False)
                    raise

        return watched

    return limited


@contextmanager
def _known_to_be_at(job_id: int) -> Iterator[None]:
    """Whoever finds this process dead meanwhile can tell which step it was at."""
    mark = mark_of(here()[0].data, os.getpid())
    mark.parent.mkdir(parents=True, exist_ok=True)
    mark.write_text(str(job_id))
    try:
        yield
    finally:
        mark.unlink(missing_ok=True)


@contextmanager
def _watched(times: float) -> Iterator[None]:
    settings, _ = here()
    faulthandler.dump_traceback_later(times * settings.step_seconds, exit=True, file=STDERR)
    _, hard = resource.getrlimit(resource.RLIMIT_CPU)
    user, system, *_ = os.times()
    _limit(resource.RLIMIT_CPU, math.ceil(user + system + times * settings.step_processor_seconds))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_CPU, (hard, hard))
        faulthandler.cancel_dump_traceback_later()


def limit_process(memory: int, most_memory: int, output: int) -> None:
    """Let the process have so many bytes of addresses more than now, and write files of at most so many bytes.

    ``most_memory`` is for what needs much of it by itself, such as the best way of reading. What asks for more fails. A
    process that is ended for what it costs leaves no picture of its memory behind.
    """
    now = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    _, hard = resource.getrlimit(resource.RLIMIT_AS)
    most = now + most_memory if hard == resource.RLIM_INFINITY else min(now + most_memory, hard)
    resource.setrlimit(resource.RLIMIT_AS, (min(now + memory, most), most))
    _limit(resource.RLIMIT_FSIZE, output)
    _limit(resource.RLIMIT_CORE, 0)


def _limit(what: int, most: int) -> None:
    _, hard = resource.getrlimit(what)
    resource.setrlimit(what, (most if hard == resource.RLIM_INFINITY else min(most, hard), hard))
