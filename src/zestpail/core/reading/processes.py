"""Processes that read files beside each other, so that one that breaks takes nothing else along."""

from __future__ import annotations

import multiprocessing
import os
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from contextlib import contextmanager
from pathlib import Path

ALL = ("zestpail.core.extraction.files",)
"""Modules that every such process has loaded before it is forked."""


@contextmanager
def reading_processes(
    workers: int = max(1, min(os.cpu_count() or 1, 8)), preload: Sequence[str] = ALL
) -> Iterator[ProcessPoolExecutor]:
    """Processes with all that reading needs, one for each core, eight at most."""
    # Not forked from here: whoever calls may have threads and engines, which do not survive a fork.
    server = multiprocessing.get_context("forkserver")
    server.set_forkserver_preload([*preload])
    pool = ProcessPoolExecutor(workers, mp_context=server)
    try:
        yield pool
    finally:
        pool.shutdown(cancel_futures=True)


def shown_path(path: Path) -> str:
    """The path as text; bytes that are no UTF-8 become question marks."""
    return str(path).encode("utf-8", "replace").decode()
