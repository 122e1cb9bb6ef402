"""The processes of a server, forked from one that has loaded all their modules already.

Each of them needs most of the same modules, whose loading takes seconds of a core. Python's fork server loads them
once, before there is any thread or engine, and each process begins as a copy of it: at once, and sharing that memory.
"""

from __future__ import annotations

import ctypes
import multiprocessing
import os
import runpy
import signal
import sys
import threading
import time
from dataclasses import dataclass, field
from multiprocessing import forkserver
from multiprocessing.context import ForkServerProcess

from zestpail.runtime.service_user import Account, become

LOADED = ("zestpail.cli", "zestpail.web.app", "zestpail.work.worker", "zestpail.runtime.intakes", "uvicorn")
"""What the processes need, in whole or in part."""
_PR_SET_NAME = 15


@dataclass
class Child:
    """One process that is kept running: a module that is run, as by ``python -m``."""

    name: str
    module: str
    arguments: list[str] = field(default_factory=list)
    process: ForkServerProcess | None = None
    deaths: int = 0
    again_at: float | None = None
    """When it is started again, by the steady clock; None while that is not decided."""
    started: float = field(default_factory=time.monotonic)

    @property
    def running(self) -> bool:
        return self.process is not None and self.process.is_alive()


def load() -> None:
    """Begin to load the modules, while the database starts and is set up."""
    os.environ["OMP_THREAD_LIMIT"] = "1"  # a worker for each core: Tesseract's own threads would be in their way
    multiprocessing.get_context("forkserver").set_forkserver_preload(list(LOADED))
    forkserver.ensure_running()


def start(child: Child, environment: dict[str, str], user: Account | None = None) -> None:
    """Start the process with these variables of the environment, as that user."""
    child.started = time.monotonic()
    child.process = multiprocessing.get_context("forkserver").Process(
        target=_run, args=(child.name, child.module, child.arguments, environment, user), name=child.name
    )
    child.process.start()


def stop(children: list[Child], within: float) -> None:
    """Ask all to stop; those that have not after ``within`` seconds are killed."""
    running = [child.process for child in children if child.process and child.running]
    for process in running:
        process.terminate()
    deadline = time.monotonic() + within
    for process in running:
        process.join(max(deadline - time.monotonic(), 0.1))
        if process.is_alive():
            process.kill()


def _run(name: str, module: str, arguments: list[str], environment: dict[str, str], user: Account | None) -> None:
    """Become what ``python -m module`` would be, in a session of its own, gone when the server is gone."""
    os.setsid()
    become(user)
    ctypes.CDLL(None).prctl(_PR_SET_NAME, f"zp {name}".encode())  # what ps and top show
    threading.Thread(target=_end_with_the_server, daemon=True).start()
    os.environ.update(environment)
    sys.argv = [module, *arguments]
    runpy.run_module(module, run_name="__main__", alter_sys=True)


def _end_with_the_server() -> None:
    """Stop when the server is gone without having stopped us; the fork server, our real parent, outlives it."""
    if server := multiprocessing.parent_process():
        server.join()
        os.kill(os.getpid(), signal.SIGTERM)
