"""What an e-mail says at its head, whatever is wrong with it: Python's own parser gives up on headers of many kinds."""

from __future__ import annotations

from email.header import decode_header, make_header
from email.message import Message


def header(message: Message, name: str) -> str:
    """The first header of that name as text; empty where there is none."""
    return next(iter(headers(message, name)), "")


def headers(message: Message, name: str) -> list[str]:
    """All headers of that name as text: as they are meant, or as they stand where that cannot be told."""
    raw = [str(value) for key, value in message.raw_items() if key.lower() == name.lower()]
    try:
        return [_plain(str(value)) for value in message.get_all(name, [])]
    except Exception:  # of many kinds, and other ones with each version
        return [_decoded(value) for value in raw]


def _decoded(raw: str) -> str:
    try:
        return _plain(str(make_header(decode_header(raw))))
    except Exception:  # the same
        return _plain(raw)


def _plain(text: str) -> str:
    """On one line, of characters that can be written down."""
    return " ".join(text.encode("utf-8", "replace").decode("utf-8").replace("\0", "").split())
