"""The user that serves when root starts the server: what parses foreign files shall never be root.

Only what starts and stops the database and the other processes stays root. Those become the service's user before they
do anything, without a way back, and what they write is for that user alone.
"""

from __future__ import annotations

import ctypes
import os
import pwd
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

OTHERS_NOTHING = 0o077
"""The umask: files are for their owner alone."""
_PR_SET_NO_NEW_PRIVS = 38
_NOT_HANDED = {"postgres", "postgres.password", "postgres.lock"}
"""What belongs to the database's user, or to who starts it."""


@dataclass(frozen=True)
class Account:
    """Whom the processes run as."""

    name: str
    uid: int
    gid: int


def service_user(name: str, data: Path) -> tuple[Account | None, str]:
    """Whom root's processes run as, made if there is no such user; None with a sentence where that cannot be.

    Nobody, and nothing to say, where the server is not started by root: its processes run as who started it.
    """
    if os.geteuid() != 0:
        return None, ""
    try:
        found = pwd.getpwnam(name)
    except KeyError:
        if not _made(name):
            return None, f"There is no user {name}, and none could be made: everything runs as root."
        found = pwd.getpwnam(name)
    account = Account(name, found.pw_uid, found.pw_gid)
    if not _can_serve(account):
        folder = Path(__file__).parents[3]
        return None, (
            f"The folder {folder}, or the Python that runs it, is closed to the user {name}: everything runs as root. "
            "Put it where every user can read, such as /opt."
        )
    _hand_over(data, account)
    return account, ""


def become(account: Account | None) -> None:
    """Be that user from now on, for good, with no other groups and nothing to become more by."""
    os.umask(OTHERS_NOTHING)
    if account is None:
        return
    os.setgroups([])
    os.setresgid(account.gid, account.gid, account.gid)
    os.setresuid(account.uid, account.uid, account.uid)
    ctypes.CDLL(None).prctl(_PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0)
    os.environ.update(HOME="/nonexistent", USER=account.name, LOGNAME=account.name)


@contextmanager
def acting(account: Account | None) -> Iterator[None]:
    """What is written meanwhile belongs to that user."""
    if account is None:
        yield
        return
    before = os.getgroups()
    os.setgroups([])
    os.setegid(account.gid)
    os.seteuid(account.uid)
    try:
        yield
    finally:
        os.seteuid(0)
        os.setegid(0)
        os.setgroups(before)


def _made(name: str) -> bool:
    """Make a user who owns nothing and cannot sign in to the machine."""
    command = ["useradd", "--system", "--user-group", "--no-create-home", "--home-dir", "/nonexistent",
               "--shell", "/usr/sbin/nologin", name]  # fmt: skip
    try:
        return subprocess.run(command, capture_output=True, check=False, timeout=60).returncode == 0
    except OSError:
        return False


def _can_serve(account: Account) -> bool:
    """Whether the user can run this Python with these packages and this code."""
    command = [sys.executable, "-B", "-c", "import zestpail.settings"]
    try:
        tried = subprocess.run(
            command, user=account.uid, group=account.gid, extra_groups=[], cwd="/", capture_output=True, check=False
        )
    except (OSError, subprocess.SubprocessError):
        return False
    return tried.returncode == 0


def _hand_over(data: Path, account: Account) -> None:
    """Give what root wrote before to the user; the folder itself last, so that a start that breaks off repeats it."""
    if data.stat().st_uid == account.uid:
        return
    for entry in [entry for entry in data.iterdir() if entry.name not in _NOT_HANDED]:
        for path in (entry, *entry.rglob("*")):
            os.chown(path, account.uid, account.gid, follow_symlinks=False)
    os.chown(data, account.uid, account.gid)
