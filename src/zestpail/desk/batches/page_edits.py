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
from zestpail.core.reading.page import PageReading, Step
from zestpail.core.reading.preparation.edits import ByHand, box_of, place_of
from zestpail.core.writing.notes import Note
from zestpail.desk.batches.page_moves import OPEN, opened, read_again
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.page_readings import forget_unused, reading_of
from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.tables import ArrivedFile, Document, DocumentState, Page, PageState

LEAST = 4.0
"""Points that a drawn box is wide and high at least."""
UNDONE = ("turned", "straightened", "borders cleared", "borders cut off", "holes filled", "specks removed", "made grey",
          "made black and white", "cropped")  # fmt: skip
"""Steps that can be undone one by one; what is blacked out can only be taken back."""


@dataclass(frozen=True)
class Done:
    """One thing that was done to the page, or that a person undid."""

    step: str
    said: str
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
    pile: str
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
        file = session.get(ArrivedFile, page.pile_id) if page else None
        if page is None or file is None or file.batch_id != batch_id:
            raise Missing("There is no such page in this batch.")
        document = session.get(Document, page.document_id) if page.document_id else None
    read = page.state == PageState.READ
    reading = reading_of(store, page)
    by_hand = ByHand.model_validate(page.by_hand)
    undone = [Done(step, f"not {step}", can_change=True, undone=True) for step in by_hand.without]
    done = [Done(s.step, s.said, s.step in UNDONE, undone=False) for s in reading.preparation] if read else []
    return PageView(
        id=page_id, batch_id=batch_id, number=page.place + 1, pile=file.name,
        belongs=page.left_out or (f"document {document.id}, {WORDS[document.state]}" if document else "not cut yet"),
        width=reading.width, height=reading.height, picture=(page.image or "")[:12] if read else "",
        problem=page.problem or "", done=done + undone, pinned=list(_pinned(page, reading)) if read else [],
        open=read and (document is None or document.state in OPEN),
    )  # fmt: skip


def turn(store: Store, page_id: int, degrees: int, person_id: int) -> str:
    """Turn the page clockwise by 90, 180 or 270 degrees from how it stands, and read it anew."""
    if degrees not in (90, 180, 270):
        raise NotDone("A page can be turned by quarters only.")
    with _changed(store, page_id, person_id, "turned page {}") as page:
        by_itself = round(sum(s.degrees for s in page.reading.preparation if s.step == "turned"))
        stands = by_itself if page.by_hand.turned is None else page.by_hand.turned
        page.by_hand = page.by_hand.model_copy(update={"turned": (stands + degrees) % 360})
    return page.told


def crop(store: Store, page_id: int, box: Box, person_id: int) -> str:
    """Only what is in the box (points of the page as it is shown) is the page from now on."""
    with _changed(store, page_id, person_id, "cropped page {}") as page:
        page.by_hand = page.by_hand.model_copy(update={"crop": page.place(box)})
    return page.told


def black_out(store: Store, page_id: int, box: Box, person_id: int) -> str:
    """Nothing of what is in the box is left in any copy of the page: picture, words, thumbnail, delivered file.

    What was read and drawn of the page before is deleted; only the file that arrived still holds it, which is kept
    unseen, so that this can be taken back until the document has gone on.
    """
    with _changed(store, page_id, person_id, "blacked out a place on page {}") as page:
        places = (*page.by_hand.blacked_out, page.place(box))
        page.by_hand = page.by_hand.model_copy(update={"blacked_out": places})
        old = [name for name in (page.row.image, page.row.thumbnail, page.row.reading) if name]
    forget_unused(store, old)
    return page.told


def without_step(store: Store, page_id: int, step: str, person_id: int) -> str:
    """Undo one step of the preparation on this page, or do it again if it was undone."""
    if step not in UNDONE:
        raise NotDone("This step cannot be undone by itself.")
    with _changed(store, page_id, person_id, f"changed “{step}” on page {{}}") as page:
        by_hand, known = page.by_hand, cast(Step, step)
        if step == "cropped":
            page.by_hand = by_hand.model_copy(update={"crop": None})
        elif step == "turned":
            page.by_hand = by_hand.model_copy(update={"turned": 0})
        elif known in by_hand.without:
            page.by_hand = by_hand.model_copy(update={"without": tuple(s for s in by_hand.without if s != known)})
        else:
            page.by_hand = by_hand.model_copy(update={"without": (*by_hand.without, known)})
    return page.told


def pin(store: Store, page_id: int, kind: str, box: Box, text: str, who: tuple[int, str]) -> str:
    """Lay a note or a highlight over the page, by ``who`` (id and name). The page itself stays as it is."""
    said = " ".join(text.split())
    if kind not in get_args(Literal["note", "highlight"]) or (kind == "note" and not said) or len(said) > 1000:
        raise NotDone("A note needs some words, at most 1000 characters of them.")
    with opened(store, page_id, who[0], f"pinned a {kind} on page {{}}") as pile:
        place = _place(store, pile.page, box)
        pinned = Note.model_validate({"kind": kind, "place": place, "text": said, "by": who[1]})
        pile.page.notes = [*pile.page.notes, pinned.model_dump(mode="json")]
        gone_on = _gone_on(pile.session, pile.page)
    return f"Document {gone_on} has gone already; this is kept here only." if gone_on else ""


def unpin(store: Store, page_id: int, number: int, person_id: int) -> str:
    """Take a note or a highlight away. Raises Missing."""
    with opened(store, page_id, person_id, "took a note off page {}") as pile:
        if not 0 <= number < len(pile.page.notes):
            raise Missing("There is no such note.")
        pile.page.notes = [one for at, one in enumerate(pile.page.notes) if at != number]
    return ""


@dataclass
class _PageByHand:
    row: Page
    reading: PageReading
    by_hand: ByHand
    place: Callable[[Box], Any]
    told: str = ""


@contextmanager
def _changed(store: Store, page_id: int, person_id: int, said: str) -> Iterator[_PageByHand]:
    with opened(store, page_id, person_id, said) as pile:
        row = pile.page
        page = _PageByHand(
            row, reading_of(store, row), ByHand.model_validate(row.by_hand), lambda box: _place(store, row, box)
        )
        yield page
        row.by_hand = page.by_hand.model_dump(mode="json", exclude_defaults=True)
        read_again(pile.session, row)
    page.told = pile.told


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
    for number, kept in enumerate(page.notes):
        note = Note.model_validate(kept)
        box = box_of(reading, note.place)
        shares = (box.x0 / reading.width, box.y0 / reading.height, box.x1 / reading.width, box.y1 / reading.height)
        yield Pinned(number, note.kind, note.text, note.by, shares)


def _gone_on(session: Session, page: Page) -> int | None:
    document = session.get(Document, page.document_id) if page.document_id else None
    return document.id if document and document.state == DocumentState.DELIVERED else None
