"""The review desk: one document at a time, doubt by doubt.

Every change takes the version of the document that the person saw; if somebody else changed it since, it raises
Outdated and nothing is done. A document is held by the person who opened it, for as long as that person works on it.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from sqlmodel import Session

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.kinds import Style
from zestpail.core.reading.engines import second_reader
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.page import Word
from zestpail.core.reading.read import read_clip
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of, type_of
from zestpail.desk.documents.holding import HOLD, held_by_other, holder_name
from zestpail.desk.documents.messages import Busy, Missing, NotDone, Outdated
from zestpail.desk.documents.page_images import page_pixels
from zestpail.desk.documents.page_readings import reading_of
from zestpail.desk.documents.table_rows import TableRows, plain
from zestpail.desk.documents.transitions import WORDS, correct, settle, take_back
from zestpail.desk.review.changes import captured, record, snapshot, undo
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.jobs import Priority, defer
from zestpail.store.queries.documents import checks_of, pages_of, rows_of, values_of
from zestpail.store.queries.review_queue import FOR_PERSON, next_in_queue
from zestpail.store.states import DocumentState, ValueState
from zestpail.store.tables import CheckResult, Document, FieldValue, Page

BY_PERSON = "person"
"""The finder of what a person set."""


@dataclass(frozen=True)
class Seen:
    """Who changes what: the document, as of the version that the person saw."""

    document_id: int
    version: int
    person_id: int


@dataclass(frozen=True)
class Change:
    """A change in the making."""

    session: Session
    document: Document
    doc_type: DocumentType
    values: dict[str, FieldValue]
    pages: list[Page]
    rows: TableRows

    @property
    def typed_style(self) -> Style:
        """What is typed follows what is shown: a point before the decimals; dates as in the document."""
        return self.style.model_copy(update={"decimal_mark": "."})

    @property
    def style(self) -> Style:
        return self.document.style or Style()

    def field(self, key: str) -> tuple[FieldRule, FieldValue]:
        if key not in self.values:
            raise Missing("This document type has no such field.")
        return self.doc_type.field(key), self.values[key]


def next_for_review(store: Store, person_id: int, after: int | None = None, lane: str = "") -> int | None:
    """The oldest document that waits for review and that nobody else holds; behind ``after`` in the queue first.

    With the key of a ``lane``, only of that lane.
    """
    with store.transaction() as session:
        return next_in_queue(session, person_id, now() - HOLD, after, lane)


def hold(store: Store, document_id: int, person_id: int, take_over: bool = False) -> bool:
    """Take the document in hand, unless somebody else has it and it is not taken over; whether nobody else has it."""
    with store.transaction() as session:
        document = session.get(Document, document_id, with_for_update=True)
        if document is None:
            raise Missing("There is no such document.")
        if held_by_other(document, person_id) and not take_over:
            return False
        if document.state not in FOR_PERSON:
            return True
        if document.holder_id != person_id:
            document.holder_id = person_id
            note(
                session,
                "review_taken_over" if take_over else "review_opened",
                document=document,
                person_id=person_id,
            )
        document.held_at = now()
        return True


def release(store: Store, document_id: int, person_id: int) -> None:
    """Put the document back into the queue for anybody."""
    with store.transaction() as session:
        document = session.get(Document, document_id, with_for_update=True)
        if document and document.holder_id == person_id:
            document.holder_id = document.held_at = None
            note(session, "review_left", document=document, person_id=person_id)


def enter(store: Store, seen: Seen, key: str, text: str) -> None:
    """Set a value by typing it; nothing typed empties the field. Raises NotDone if it is not of the field's kind."""
    with changing(store, seen, "typed", key) as change:
        set_typed(change, seen, key, text)


def set_typed(change: Change, seen: Seen, key: str, text: str) -> None:
    """The value that was typed, within a change; nothing typed empties the field. Raises NotDone."""
    rule, value = change.field(key)
    if not text.strip():
        _set(value, seen, None, "", None, None)
        return
    entered = rule.kind.as_entered(text, change.typed_style)
    if entered is None:
        raise NotDone(f"“{text.strip()}” is not {rule.kind.words}. Look at the snippet, or leave it empty.")
    box = Box(*value.box) if value.box else None
    _set(value, seen, entered[0], text.strip(), value.page, box, entered[1])


def understood(store: Store, document_id: int, key: str, text: str) -> str:
    """How a text that is being typed would be understood; empty where it stands as it is. Raises Missing."""
    with store.transaction() as session:
        document = session.get(Document, document_id)
        if document is None:
            raise Missing("There is no such document.")
        field = next((one for one in type_of(session, document).fields if one.key == key), None)
        if field is None:
            raise Missing("This document type has no such field.")
        style = (document.style or Style()).model_copy(update={"decimal_mark": "."})
    if not text.strip():
        return ""
    entered = field.kind.as_entered(text, style)
    if entered is None:
        return f"not {field.kind.words}"
    value, against = entered
    said = field.kind.said(value)
    return "; ".join(filter(None, ["" if said == " ".join(text.split()) else said, against]))


def take_words(store: Store, seen: Seen, key: str, page: int, numbers: list[int]) -> None:
    """Set a value to words clicked on the page, by their numbers in the page's reading, in reading order."""
    with changing(store, seen, "taken from the page", key) as change:
        words = reading_of(store, _page(change, page)).words
        picked = [words[number] for number in sorted(set(numbers)) if 0 <= number < len(words)]
        _take(change, seen, key, page, picked)


def take_box(store: Store, seen: Seen, key: str, page: int, box: Box) -> None:
    """Read again, with both readers, what stands in a box drawn on the page, and set the value to it.

    Where they differ the second one is believed, which reads single lines better; the trail keeps what was taken.
    """
    with store.transaction() as session:
        pages = pages_of(session, seen.document_id)
    if not 0 <= page < len(pages):
        raise Missing("The document has no such page.")
    pixels, dpi = page_pixels(store, pages[page])
    words = list(read_clip(pixels, dpi, box))
    again = second_reader.look(pixels, dpi, box) if words else None
    with changing(store, seen, "read from a drawn box", key) as change:
        if not words:
            raise NotDone("There is nothing to read in that box; draw it round the value.")
        first = " ".join(word.text for word in words)
        rule, _ = change.field(key)
        if again and not second_reader.agree(first, again.text) and rule.kind.parse(again.text, change.style):
            words = [Word(text=again.text, box=box, confidence=again.confidence)]
        _take(change, seen, key, page, words, box)


def pick(store: Store, seen: Seen, key: str, number: int) -> None:
    """Set a value to one of its other readings, counted from 1."""
    with changing(store, seen, "set to another reading", key) as change:
        _, value = change.field(key)
        if not 1 <= number <= len(value.readings):
            raise NotDone("There is no such reading.")
        reading = value.readings[number - 1]
        _set(value, seen, reading["value"], reading["raw"], reading["page"], Box(*reading["box"]))


def accept(store: Store, seen: Seen, key: str) -> None:
    """The value stands as it is."""
    with changing(store, seen, "accepted", key) as change:
        set_accepted(change, seen, key)


def set_accepted(change: Change, seen: Seen, key: str) -> None:
    """The value stands as it is, within a change."""
    _, value = change.field(key)
    value.state, value.settled_by_id = ValueState.SETTLED, seen.person_id


def waive(store: Store, seen: Seen, name: str) -> None:
    """Keep the values as printed although a check fails; kept in the trail with the person's name."""
    with changing(store, seen, "kept as printed") as change:
        result = _failed(change, name)
        result.waived_by_id = seen.person_id
        for key in result.fields:
            if change.values[key].value:
                change.values[key].state, change.values[key].settled_by_id = ValueState.SETTLED, seen.person_id
        _keep_rows(change, name)


def _keep_rows(change: Change, name: str) -> None:
    """Rows that nothing but this check spoke against stand as they are printed, without being asked for one by one.

    The cells that it is about are kept by the same word; empty ones, and those of other columns, are asked for still.
    """
    check = change.doc_type.check(name)
    for table in {table for table, _ in check.columns} if check else ():
        rows = change.rows.of(table)
        values = plain(change.doc_type, rows)[table]
        others = [one for one in change.doc_type.checks if one.id != name and any(t == table for t, _ in one.columns)]
        about = {column for of, column in check.columns if of == table} if check else set()
        for at, row in enumerate(rows):
            row.cells = {
                key: {**cell, "doubtful": cell["doubtful"] and not (key in about and cell["value"])}
                for key, cell in row.cells.items()
            }
            before = values[at - 1] if at else None
            spoken_against = any(other.row_problem(before, values[at], {}) for other in others)
            if not spoken_against and not any(cell["doubtful"] for cell in row.cells.values()):
                row.state = ValueState.SETTLED


def use_offer(store: Store, seen: Seen, name: str, number: int) -> None:
    """Set the value that a failed check offers, counted from 1."""
    with changing(store, seen, "took what the check offers") as change:
        offers = _failed(change, name).offers
        if not 1 <= number <= len(offers):
            raise NotDone("There is no such offer.")
        offer = offers[number - 1]
        _, value = change.field(offer["field"])
        box = Box(*value.box) if value.box else None
        _set(value, seen, offer["value"], value.raw, value.page, box)


def undo_last(store: Store, seen: Seen) -> str:
    """Take back the last change; returns what it was."""
    with _open(store, seen) as (session, document):
        return undo(session, document, type_of(session, document), seen.person_id)


def done(store: Store, seen: Seen) -> None:
    """Nothing is doubtful any more: settle the document. Raises NotDone naming what is left."""
    with _open(store, seen) as (session, document):
        doc_type = type_of(session, document)
        doubtful = [
            doc_type.names[v.key] for v in values_of(session, seen.document_id) if v.state == ValueState.DOUBTFUL
        ]
        for table in doc_type.tables:
            rows = [r for r in rows_of(session, seen.document_id) if r.table == table.key]
            open_rows = [at for at, r in enumerate(rows, start=1) if r.state == ValueState.DOUBTFUL]
            doubtful += [f"row {', '.join(map(str, open_rows[:5]))} of {table.name}"] if open_rows else []
        failed = [c.message for c in checks_of(session, seen.document_id) if not c.passed and not c.waived_by_id]
        left = [f"Still open: {', '.join(doubtful)}."] if doubtful else []
        left += [f"A check still fails: {failed[0]}"] if failed else []
        if left:
            raise NotDone(" ".join(left))
        lane_settings = lane_of(session, document).settings
        settle(session, document, seen.person_id, lane_settings.take_back_seconds)
        if lane_settings.learns != "never":
            defer(session, "sample_from_review", priority=Priority.OPEN_SAMPLE, document_id=seen.document_id)


def back_to_review(store: Store, document_id: int, person_id: int) -> None:
    """Take a settled document back before it is delivered, or open a delivered one again to correct it.

    Raises NotDone if that cannot be.
    """
    try:
        with store.transaction() as session:
            document = session.get(Document, document_id, with_for_update={"nowait": True})
            if document is None:
                raise Missing("There is no such document.")
            reopen = correct if document.state == DocumentState.DELIVERED else take_back
            reopen(session, document, person_id)
    except Busy as busy:  # a delivery has it locked
        raise NotDone("This document is being delivered at this moment. Try again in a few seconds.") from busy


@contextmanager
def _open(store: Store, seen: Seen) -> Iterator[tuple[Session, Document]]:
    """The document, locked, if it is in review, in this person's hands and as this person saw it."""
    with store.transaction() as session:
        document = session.get(Document, seen.document_id, with_for_update=True)
        if document is None:
            raise Missing("There is no such document.")
        if document.state != DocumentState.REVIEW:
            raise NotDone(f"This document is {WORDS[document.state]}; it cannot be changed now.")
        holder = holder_name(session, document, seen.person_id)
        if holder:
            raise NotDone(f"{holder} is working on this document.")
        if document.version != seen.version:
            raise Outdated("The document was changed in the meantime; here is how it stands now.")
        document.holder_id, document.held_at = seen.person_id, now()
        yield session, document


@contextmanager
def in_passing(store: Store, document_id: int, person_id: int) -> Iterator[None]:
    """What is done within leaves the document in nobody's hands, if it was in nobody's before."""
    with store.transaction() as session:
        document = session.get(Document, document_id)
        before = document.holder_id if document else None
    yield
    with store.transaction() as session:
        document = session.get(Document, document_id, with_for_update=True)
        if document and before != person_id and document.holder_id == person_id:
            document.holder_id = document.held_at = None


@contextmanager
def changing(store: Store, seen: Seen, message: str, key: str = "") -> Iterator[Change]:
    """A change of the document, of the field ``key`` if of one: its checks are judged anew, and it can be undone."""
    with _open(store, seen) as (session, document):
        doc_type = type_of(session, document)
        of = captured(session, document, doc_type)
        before = snapshot(of)
        values = {value.key: value for value in of.values}
        yield Change(session, document, doc_type, values, pages_of(session, seen.document_id), of.rows)
        named = f"{doc_type.names[key]} {message}" if key else message
        record(of, seen.person_id, before, named)


def _take(change: Change, seen: Seen, key: str, page: int, words: list[Word], box: Box | None = None) -> None:
    rule, value = change.field(key)
    if not words:
        raise NotDone("Select a word first.")
    text = " ".join(word.text for word in words)
    within = rule.kind.parse(text, change.style) or _within(rule, words, change.style)
    entered = (within, "") if within else None
    entered = rule.kind.as_entered(within or text, change.style) or entered
    if entered is None:
        raise NotDone(f"“{text[:60]}” is not {rule.kind.words}.")
    _set(value, seen, entered[0], text, page, box or around(word.box for word in words), entered[1])


def _within(rule: FieldRule, words: list[Word], style: Style) -> str | None:
    """The one value of the kind inside a longer text, as when a box is drawn a little too large."""
    found = {value for word in words if (value := rule.kind.parse(word.text, style))}
    return found.pop() if len(found) == 1 else None


def _set(
    value: FieldValue, seen: Seen, new: str | None, raw: str, page: int | None, box: Box | None, against: str = ""
) -> None:
    value.value, value.raw, value.page, value.box = new, raw.replace("\0", ""), page, list(box) if box else []
    value.state, value.settled_by_id = ValueState.SETTLED, seen.person_id
    value.confidence, value.finder, value.reason, value.doubt, value.doubtful = 1.0, BY_PERSON, against, "", []


def _page(change: Change, page: int) -> Page:
    if not 0 <= page < len(change.pages):
        raise Missing("The document has no such page.")
    return change.pages[page]


def _failed(change: Change, name: str) -> CheckResult:
    for result in checks_of(change.session, change.document.id or 0):
        if result.check == name and not result.passed:
            return result
    raise Missing("That check does not fail.")
