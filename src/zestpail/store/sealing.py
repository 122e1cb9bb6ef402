"""Secrets of outside systems, sealed with a key that lies beside the data and not in the database (Fernet)."""

from __future__ import annotations

import contextlib
import hashlib
import os
from pathlib import Path

from cryptography.fernet import Fernet, InvalidToken

KEY_FILE = "secrets.key"


def sealing_key(data: Path) -> bytes:
    """The key of this installation; made at the first asking, readable by its owner alone."""
    path = data / KEY_FILE
    if not path.exists():
        data.mkdir(parents=True, exist_ok=True)
        fresh = path.with_name(f".{KEY_FILE}.{os.getpid()}")
        with contextlib.suppress(FileExistsError):
            number = os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
            with os.fdopen(number, "wb") as file:
                file.write(Fernet.generate_key())
            with contextlib.suppress(FileExistsError):
                os.link(fresh, path)  # unlike a rename this leaves a key that another process made first
            fresh.unlink()
    return path.read_bytes()


def house_of(key: bytes) -> str:
    """What names this installation to others, so that two that send to one place are told apart."""
    return hashlib.sha256(b"house " + key).hexdigest()[:10]


def seal(key: bytes, text: str) -> str:
    """The text, readable with the key only."""
    return Fernet(key).encrypt(text.encode()).decode()


def opened(key: bytes, sealed: str) -> str | None:
    """The text; None where it was sealed with another key."""
    try:
        return Fernet(key).decrypt(sealed.encode()).decode()
    except InvalidToken:
        return None
