"""Settings and store of a worker's process, opened once."""

from __future__ import annotations

import os

from zestpail.settings import Settings
from zestpail.store import Store, open_store

_opened: dict[int, tuple[Settings, Store]] = {}


def here() -> tuple[Settings, Store]:
    """Those of this process; one that was forked opens its own."""
    if os.getpid() not in _opened:
        settings = Settings()
        _opened[os.getpid()] = settings, open_store(settings.database_url, settings.blob_address, settings.limits)
    return _opened[os.getpid()]
