"""A server as anybody starts it, on a data folder of its own."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from zestpail.runtime import supervisor

ROOT = Path(__file__).parents[1]


@contextmanager
def data_folder() -> Iterator[Path]:
    """A folder for data that the database's user can enter."""
    with tempfile.TemporaryDirectory() as name:
        Path(name).chmod(0o755)
        yield Path(name) / "data"


@contextmanager
def server(folder: Path, **settings: str) -> Iterator[tuple[subprocess.Popen[bytes], str, int]]:
    """The server's process, its address and its port for e-mail; ``settings`` are of the environment."""
    smtp = supervisor.usable_port("127.0.0.1", 0)
    environment = {**os.environ, **settings, "ZESTPAIL_SMTP_PORT": str(smtp)}
    command = [sys.executable, "-m", "zestpail", "serve", "--data", str(folder), "--port", "0"]
    with (folder.parent / "server.log").open("wb") as log:
        process = subprocess.Popen(command, env=environment, cwd=ROOT, stdout=log, stderr=log)
    while not (folder / "address").exists():
        assert process.poll() is None, (folder.parent / "server.log").read_text()
        time.sleep(0.2)
    try:
        yield process, (folder / "address").read_text(), smtp
    finally:
        process.send_signal(signal.SIGINT)
        print(f"the server ended with {process.wait(120)}")
