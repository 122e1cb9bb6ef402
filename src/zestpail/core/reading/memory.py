"""Room for what needs much memory by itself, in a process that is held to less (``getrlimit(2)``)."""

from __future__ import annotations

import resource
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


@contextmanager
def all_that_may_be_asked_for() -> Iterator[None]:
    """Memory up to the hard limit; afterwards as much more than the process then has as it had before."""
    soft, hard = resource.getrlimit(resource.RLIMIT_AS)
    if soft == hard:
        yield
        return
    before = _size()
    resource.setrlimit(resource.RLIMIT_AS, (hard, hard))
    try:
        yield
    finally:
        wanted = soft + max(_size() - before, 0)
        resource.setrlimit(resource.RLIMIT_AS, (wanted if hard == resource.RLIM_INFINITY else min(wanted, hard), hard))


def _size() -> int:
    """Bytes of addresses that the process has."""
    return int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
