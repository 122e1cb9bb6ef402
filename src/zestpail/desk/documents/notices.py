"""Following what changes, and being ready before somebody asks."""

from __future__ import annotations

from collections.abc import Iterator

from zestpail.core.reading.engines import second_reader, tesseract
from zestpail.store import Store
from zestpail.store.notices import listen


def changes(store: Store, quiet: float) -> Iterator[str | None]:
    """Topics as they change; None whenever nothing changed for ``quiet`` seconds."""
    return listen(store.url, quiet)


def warm_reader() -> None:
    """Load both readers, so that the first box somebody draws is read at once."""
    tesseract.warm()
    second_reader.warm()
