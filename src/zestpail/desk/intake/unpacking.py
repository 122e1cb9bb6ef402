"""A zip or an e-mail that arrived: what is in it arrives in its place, in the same batch."""

from __future__ import annotations

import time
from collections.abc import Iterator

from zestpail.core.problems import Unreadable
from zestpail.core.reading.limits import Limits
from zestpail.core.reading.opening import count_pages
from zestpail.core.reading.unpacking import Package, Packed
from zestpail.core.writing import mail_pages
from zestpail.core.writing.text_pages import pages_of_text
from zestpail.desk.documents.audit import note
from zestpail.desk.intake.arrivals import shown_name
from zestpail.store import Store
from zestpail.store.document_origin import given_by
from zestpail.store.jobs import Priority, defer
from zestpail.store.states import FileState
from zestpail.store.tables import ArrivedFile

MOST_SECONDS = 60.0
"""For opening all files of a package together."""


def unpack(store: Store, file_id: int, package: Package) -> None:
    """Let the files of a package arrive, each with what the package said of all. Does nothing if that is done."""
    saved = [
        (packed.name, store.blobs.put(data), len(data), problem)
        for packed, data, problem in _in_budget(package, store.limits)
    ]
    with store.transaction() as session:
        file = session.get_one(ArrivedFile, file_id, with_for_update=True)
        if file.state != FileState.WAITING:
            return
        file.state = FileState.OPENED
        for name, blob, size, problem in saved:
            inside = ArrivedFile(
                batch_id=file.batch_id,
                name=shown_name(name),
                blob=blob,
                size=size,
                of_id=file.id,
                given={**given_by(file.given), **package.values},
            )
            if problem:
                inside.state, inside.problem = FileState.REFUSED, problem
            session.add(inside)
            session.flush()
            if not problem:
                defer(session, "open_file", priority=Priority.OPEN, file_id=inside.id)
        details = {"file": file.name, "files": len(saved), "why": "; ".join(package.left_out)}
        note(session, "unpacked", batch_id=file.batch_id, after=details)


def _in_budget(package: Package, limits: Limits) -> Iterator[tuple[Packed, bytes, str | None]]:
    """Each file as it is read, and why it is not: what would make the package too long is told, the others go on."""
    spent, began = 0, time.monotonic()
    for packed in package.files:
        if time.monotonic() - began > MOST_SECONDS:
            yield packed, packed.data, f"Opening what came together took {MOST_SECONDS:.0f} s; send this one by itself."
            continue
        long = pages_of_text(packed.data.decode("utf-8", "replace")) if packed.text else _pages(packed.data, limits)
        if spent + long > limits.max_pages:
            problem = f"All that came together has more than {limits.max_pages} pages; send this one by itself."
            yield packed, packed.data, problem
            continue
        data, trouble = as_pages(packed)
        spent += long
        yield packed, data, trouble


def _pages(data: bytes, limits: Limits) -> int:
    try:
        return count_pages(data, limits)
    except Unreadable:  # told when it is opened
        return 0


def as_pages(packed: Packed) -> tuple[bytes, str | None]:
    """The file itself, or plain text and data as a PDF; and why it cannot be one."""
    try:
        return mail_pages.as_pages(packed, shown_name(packed.name)), None
    except Unreadable as problem:
        return packed.data, str(problem)
