"""Zest Pail turns piles of scanned paper and PDFs into checked data and well-filed documents.

In a program of one's own, without a server: ``zestpail.read``, ``zestpail.extract`` and what else stands in
:mod:`zestpail.library`.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from zestpail.library import (
        DocumentReading,
        DocumentRecord,
        DocumentType,
        PageReading,
        Unreadable,
        Word,
        extract,
        extract_all,
        load_type,
        read,
        written,
    )

__version__ = "0.1.0"
__all__ = [
    "DocumentReading",
    "DocumentRecord",
    "DocumentType",
    "PageReading",
    "Unreadable",
    "Word",
    "extract",
    "extract_all",
    "load_type",
    "read",
    "written",
]


def __getattr__(name: str) -> Any:
    """The engine is loaded with the first call: the server and its commands import this package too."""
    if name in __all__:
        return getattr(import_module("zestpail.library"), name)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
