"""Real servers of other systems, each on a free port of this machine for as long as a test needs it."""

from __future__ import annotations

import asyncio
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import asyncssh
import uvicorn


@contextmanager
def served(app: Any, **options: Any) -> Iterator[str]:
    """A web application; yields its address."""
    server = uvicorn.Server(uvicorn.Config(app, port=0, log_level="error", **options))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    yield f"http{'s' if options else ''}://127.0.0.1:{server.servers[0].sockets[0].getsockname()[1]}"
    server.should_exit = True
    thread.join()


class _Server(asyncssh.SSHServer):
    def begin_auth(self, username: str) -> bool:
        return True

    def password_auth_supported(self) -> bool:
        return True

    def validate_password(self, username: str, password: str) -> bool:
        return (username, password) == ("harbour", "quillon")


@contextmanager
def sftp_server(root: Path, key: asyncssh.SSHKey) -> Iterator[int]:
    """An SFTP server over a folder, with that host key; yields its port."""
    loop, ready, port = asyncio.new_event_loop(), threading.Event(), list[int]()

    async def start() -> asyncssh.SSHAcceptor:
        listening = await asyncssh.create_server(
            _Server, "127.0.0.1", 0, server_host_keys=[key],
            sftp_factory=lambda channel: asyncssh.SFTPServer(channel, chroot=str(root).encode()),
        )  # fmt: skip
        port.append(listening.get_port())
        ready.set()
        return listening

    def run() -> None:
        asyncio.set_event_loop(loop)
        listening = loop.run_until_complete(start())
        loop.run_forever()
        listening.close()

    thread = threading.Thread(target=run, daemon=True)
    thread.start()
    assert ready.wait(10)
    yield port[0]
    loop.call_soon_threadsafe(loop.stop)
    thread.join(10)
