"""What a person does to one page: turn it, cut it to a part, black something out, undo a step, note something on it.

The file that arrived is never touched: the page is read anew as it then is, and can be taken back like any mending.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any, Literal, cast, get_args

from sqlmodel import Session

from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import STEPS, PageReading, Step
from zestpail.core.reading.preparation.edits import PageEdits, box_of, place_of
from zestpail.core.writing.notes import Note
from zestpail.desk.batches.page_moves import CHANGEABLE, opened, read_again
from zestpail.desk.documents.gone_files import forget
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.states import DocumentState, PageState
from zestpail.store.tables import ArrivedFile, Document, Page

LEAST = 4.0
"""Points that a drawn box is wide and high at least."""
UNDONE = ("turned", "straightened", "borders_cleared", "borders_cut_off", "holes_filled", "specks_removed", "made_grey",
          "made_black_and_white", "cropped")  # fmt: skip
"""Steps that can be undone one by one; what is blacked out can only be taken back."""


@dataclass(frozen=True)
class Done:
    """One thing that was done to the page, or that a person undid."""

    step: str
    message: str
    can_change: bool
    undone: bool


@dataclass(frozen=True)
class Pinned:
    """A note or a highlight where it lies now (shares of the page's sides, in [0, 1])."""

    number: int
    kind: str
    text: str
    by: str
    box: tuple[float, float, float, float]


@dataclass(frozen=True)
class PageView:
    id: int
    batch_id: int
    number: int
    """In its pile, from 1."""
    stack: str
    belongs: str
    width: float
    height: float
    picture: str
    """Changes with the picture; nothing while it is being read."""
    problem: str
    done: list[Done]
    pinned: list[Pinned]
    open: bool
    """Whether it can still be changed."""


def page_view(store: Store, batch_id: int, page_id: int) -> PageView:
    """One page in full size, with what was done to it. Raises Missing."""
    with store.transaction() as session:
        page = session.get(Page, page_id)
        file = session.get(ArrivedFile, page.stack_id) if page else None
        if page is None or file is None or file.batch_id != batch_id:
            raise Missing("There is no such page in this batch.")
        document = session.get(Document, page.document_id) if page.document_id else None
    read = page.state == PageState.READ
    reading = reading_of(store, page)
    undone = [Done(step, f"not {STEPS[step]}", can_change=True, undone=True) for step in page.edits.without]
    done = [Done(s.step, s.message, s.step in UNDONE, undone=False) for s in reading.preparation] if read else []
    return PageView(
        id=page_id, batch_id=batch_id, number=page.place + 1, stack=file.name,
        belongs=page.left_out or (f"document {document.id}, {WORDS[document.state]}" if document else "not split yet"),
        width=reading.width, height=reading.height, picture=(page.image or "")[:12] if read else "",
        problem=page.problem or "", done=done + undone, pinned=list(_pinned(page, reading)) if read else [],
        open=read and (document is None or document.state in CHANGEABLE),
    )  # fmt: skip


def turn(store: Store, page_id: int, degrees: int, person_id: int) -> str:
    """Turn the page clockwise by 90, 180 or 270 degrees from how it stands, and read it anew."""
    with _changed(store, page_id, person_id, "turned page {}") as page:
        page.edits = turned_by(store, page.row, degrees)
    return page.details


def turned_by(store: Store, row: Page, degrees: int) -> PageEdits:
    """What is done to a page that is turned further. Raises NotDone for what is no quarter."""
    if degrees not in (90, 180, 270):
        raise NotDone("A page can be turned by quarters only.")
    by_itself = round(sum(s.degrees for s in reading_of(store, row).preparation if s.step == "turned"))
    stands = by_itself if row.edits.turned is None else row.edits.turned
    return row.edits.model_copy(update={"turned": (stands + degrees) % 360})


def crop(store: Store, page_id: int, box: Box, person_id: int) -> str:
    """Only what is in the box (points of the page as it is shown) is the page from now on."""
    with _changed(store, page_id, person_id, "cropped page {}") as page:
        page.edits = page.edits.model_copy(update={"crop": page.place(box)})
    return page.details


def black_out(store: Store, page_id: int, box: Box, person_id: int) -> str:
    """Nothing of what is in the box is left in any copy of the page: picture, words, thumbnail, delivered file.

    What was read and drawn of the page before is deleted; only the file that arrived still holds it, which is kept
    unseen, so that this can be taken back until the document has gone on.
    """
    with _changed(store, page_id, person_id, "blacked out a place on page {}") as page:
        places = (*page.edits.blacked_out, page.place(box))
        page.edits = page.edits.model_copy(update={"blacked_out": places})
        old = [name for name in (page.row.image, page.row.thumbnail, page.row.reading) if name]
    forget(store, old)
    return page.details


def without_step(store: Store, page_id: int, step: str, person_id: int) -> str:
    """Undo one step of the preparation on this page, or do it again if it was undone."""
    if step not in UNDONE:
        raise NotDone("This step cannot be undone by itself.")
    with _changed(store, page_id, person_id, f"changed “{step.replace('_', ' ')}” on page {{}}") as page:
        edits, known = page.edits, cast(Step, step)
        if step == "cropped":
            page.edits = edits.model_copy(update={"crop": None})
        elif step == "turned":
            page.edits = edits.model_copy(update={"turned": 0})
        elif known in edits.without:
            page.edits = edits.model_copy(update={"without": tuple(s for s in edits.without if s != known)})
        else:
            page.edits = edits.model_copy(update={"without": (*edits.without, known)})
    return page.details


def pin(store: Store, page_id: int, kind: str, box: Box, text: str, who: tuple[int, str]) -> str:
    """Lay a note or a highlight over the page, by ``who`` (id and name). The page itself stays as it is."""
    message = " ".join(text.split())
    if kind not in get_args(Literal["note", "highlight"]) or (kind == "note" and not message) or len(message) > 1000:
        raise NotDone("A note needs some words, at most 1000 characters of them.")
    with opened(store, page_id, who[0], f"pinned a {kind} on page {{}}") as stack:
        place = _place(store, stack.page, box)
        pinned = Note.model_validate({"kind": kind, "place": place, "text": message, "by": who[1]})
        stack.page.notes = (*stack.page.notes, pinned)
        gone_on = _gone_on(stack.session, stack.page)
    return f"Document {gone_on} has gone already; this is kept here only." if gone_on else ""


def unpin(store: Store, page_id: int, number: int, person_id: int) -> str:
    """Take a note or a highlight away. Raises Missing."""
    with opened(store, page_id, person_id, "took a note off page {}") as stack:
        if not 0 <= number < len(stack.page.notes):
            raise Missing("There is no such note.")
        stack.page.notes = tuple(one for at, one in enumerate(stack.page.notes) if at != number)
    return ""


@dataclass
class _PageUnderEdit:
    row: Page
    reading: PageReading
    edits: PageEdits
    place: Callable[[Box], Any]
    details: str = ""


@contextmanager
def _changed(store: Store, page_id: int, person_id: int, message: str) -> Iterator[_PageUnderEdit]:
    with opened(store, page_id, person_id, message) as stack:
        row = stack.page
        page = _PageUnderEdit(row, reading_of(store, row), row.edits, lambda box: _place(store, row, box))
        yield page
        row.edits = page.edits
        read_again(stack.session, row)
    page.details = stack.details


def _place(store: Store, page: Page, box: Box) -> Any:
    if page.state != PageState.READ:
        raise NotDone("This page is being read; try again in a moment.")
    if not all(map(math.isfinite, box)):
        raise NotDone("Draw a box on the page.")
    reading = reading_of(store, page)
    inside = Box(max(box.x0, 0), max(box.y0, 0), min(box.x1, reading.width), min(box.y1, reading.height))
    if inside.width < LEAST or inside.height < LEAST:
        raise NotDone("Draw a larger box on the page.")
    return place_of(reading, inside)


def _pinned(page: Page, reading: PageReading) -> Iterator[Pinned]:
    for number, note in enumerate(page.notes):
        box = box_of(reading, note.place)
        shares = (box.x0 / reading.width, box.y0 / reading.height, box.x1 / reading.width, box.y1 / reading.height)
        yield Pinned(number, note.kind, note.text, note.by, shares)


def _gone_on(session: Session, page: Page) -> int | None:
    document = session.get(Document, page.document_id) if page.document_id else None
    return document.id if document and document.state == DocumentState.DELIVERED else None
