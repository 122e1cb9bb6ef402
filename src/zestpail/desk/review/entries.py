"""The entry of a reference list that a document speaks of: shown with its reasons, chosen otherwise, remembered."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

from sqlmodel import Session

from zestpail.core.checks import AgreesWithList, AgreesWithOrder
from zestpail.core.document_type import DocumentType
from zestpail.core.finders import FromList
from zestpail.core.reading.geometry import Box
from zestpail.core.reference.reference_list import Entry, ReferenceList
from zestpail.core.reference.traces import tokens_for
from zestpail.delivery import Refused
from zestpail.desk.documents.context import type_of
from zestpail.desk.documents.desk_context import Desk
from zestpail.desk.documents.entries import entries_kept
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.stored_lists import StoredLists, lists_within
from zestpail.desk.reference import asking, taking
from zestpail.desk.review.desk import Change, Seen, changing, set_typed
from zestpail.store import Store
from zestpail.store.queries.documents import values_of
from zestpail.store.queries.reference import LEAST_MEANT, list_named
from zestpail.store.reference_tables import DocumentEntry, ListAlias
from zestpail.store.states import ValueState
from zestpail.store.tables import CheckResult, Document

SURE = 0.8
"""An entry that is less likely than this, in [0, 1], is a doubt."""
MOST_FOUND = 8


@dataclass(frozen=True)
class LikelyView:
    """An entry that may be meant instead."""

    number: int
    key: str
    label: str
    why: str


@dataclass(frozen=True)
class EntryView:
    """The card of a list: the entry that was taken, why, and the next best."""

    list_key: str
    name: str
    entry: str
    label: str
    told: list[tuple[str, str]]
    """What the list says of the entry, by column."""
    why: str
    against: str
    sure: float
    state: Literal["settled", "doubtful", "fails"]
    page: int
    box: Box | None
    others: list[LikelyView]
    problem: str
    check: str
    """The check that fails where no entry was found; "" where none does."""
    address: str
    """Where an entry that is missing can be created; "" where that is not known."""
    side: Literal["left", "right"] = "left"


def entry_views(session: Session, document_id: int, failed: list[CheckResult], width: float) -> list[EntryView]:
    """The cards of all lists that the document was looked up in."""
    lists = lists_within(session)
    return [_view(session, lists, kept, failed, width) for kept in entries_kept(session, document_id)]


def about_entry(check: str) -> bool:
    """Whether a check asks only whether an entry was found: it is told on the list's card."""
    return check.startswith("in_list:") and check.count(":") == 2


def _view(
    session: Session, lists: StoredLists, kept: DocumentEntry, failed: list[CheckResult], width: float
) -> EntryView:
    found, known = kept.found, list_named(session, kept.list)
    entry = lists.entry(kept.list, kept.entry) if kept.entry else None
    fails = next((c for c in failed if about_entry(c.check) and c.check.split(":")[2] == kept.list), None)
    taken = next((one for one in found.likely if one.key == kept.entry), None)
    others = [one for one in found.likely if one.key != kept.entry]
    box = found.box if kept.person_id is None else None
    doubtful = kept.person_id is None and entry is not None and found.sure < SURE
    return EntryView(
        list_key=kept.list,
        name=known.name if known else kept.list,
        entry=kept.entry or "",
        label=entry.label if entry else "",
        told=_told(entry) if entry else [],
        why="said by a person" if kept.person_id else taken.why if taken else "",
        against=taken.against if taken else "",
        sure=1.0 if kept.person_id else found.sure,
        state="fails" if fails else "doubtful" if doubtful else "settled",
        page=found.page,
        box=box,
        others=[LikelyView(at, one.key, one.label, one.why) for at, one in enumerate(others, 2 if fails else 1)],
        problem=fails.message if fails else "",
        check=fails.check if fails else "",
        address=known.asked.address if known and known.asked else "",
        side="left" if box is None or box.cx < 0.45 * width else "right",
    )


def _told(entry: Entry) -> list[tuple[str, str]]:
    return [(column.name, said) for column in entry.list.columns if (said := entry.values.get(column.key, ""))]


def choose(store: Store, seen: Seen, key: str, identifier: str, remember: bool) -> None:
    """The document speaks of this entry: what the list says of it fills the fields. Raises Missing."""
    with changing(store, seen, "said which entry it is") as change:
        entry = lists_within(change.session).entry(key, identifier)
        if entry is None:
            raise Missing("There is no such entry in the list any more.")
        _choose(change, seen, key, entry, remember)


def create(desk: Desk, seen: Seen, key: str) -> str:
    """Create the entry over there, by what the paper says, and take it; returns what was done. Raises NotDone."""
    store = desk.store
    with store.transaction() as session:
        document = session.get(Document, seen.document_id)
        known = list_named(session, key)
        if document is None or known is None or known.model is None or known.asked is None:
            raise NotDone("No address is known at which an entry of this list could be created.")
        doc_type, list_id, asked, model = type_of(session, document), known.id or 0, known.asked, known.model
        worth = {value.key: value.value or "" for value in values_of(session, seen.document_id)}
    body = _as_new(model, doc_type, key, worth)
    try:
        answer = desk.web.call("POST", asked.address, asked.secret, json.dumps(body).encode())
    except Refused as refusal:
        raise NotDone(f"It was not created: {refusal}") from refusal
    told = _object(answer.body)
    if answer.status not in (200, 201) or not told.get(model.identifying.key):
        raise NotDone(f"It was not created: {asked.address} answers {answer.status} {told.get('detail', '')}".strip())
    identifier = str(told[model.identifying.key])
    asking.ask(store, desk.web, list_id)
    taking.read_list(store, list_id)
    choose(store, seen, key, identifier, remember=False)
    return f"Created as {identifier}."


def _as_new(model: ReferenceList, doc_type: DocumentType, key: str, worth: Mapping[str, str]) -> dict[str, str]:
    """What the paper says of an entry that is not there yet, by the list's columns."""
    named_by = next((finder.named_by for _, finder in _using(doc_type, key)), "")
    checks = (check for check in doc_type.checks if isinstance(check, AgreesWithList) and check.list == key)
    held = {check.column: check.field for check in checks}
    told = {column.key: worth.get(named_by, "") for column in model.saying("name")[:1]}
    told |= {column: worth.get(field, "") for column, field in held.items()}
    return {column: text for column, text in told.items() if text}


def _object(body: bytes) -> dict[str, object]:
    try:
        told = json.loads(body)
    except ValueError:
        return {}
    return told if isinstance(told, dict) else {}


def find(store: Store, seen: Seen, key: str, text: str) -> None:
    """Choose the entry by its number or name. Raises NotDone where none or several have it."""
    with changing(store, seen, "said which entry it is") as change:
        lists = lists_within(change.session)
        found = _found(lists, key, text.strip())
        if not found:
            raise NotDone(f"No entry is called “{text.strip()}”, or has that number.")
        if len(found) > 1:
            named = "; ".join(entry.label for entry in found[:MOST_FOUND])
            raise NotDone(f"Several may be meant: {named}. Type the number of the right one.")
        _choose(change, seen, key, found[0], remember=False)


def accept(store: Store, seen: Seen, key: str) -> None:
    """It is the entry that was taken. Raises NotDone where none was."""
    with changing(store, seen, "confirmed the entry") as change:
        kept = _kept(change, key)
        if kept.entry is None:
            raise NotDone("Say which entry it is: press its figure, or type its number.")
        kept.person_id = seen.person_id
        change.session.add(kept)


def _found(lists: StoredLists, key: str, text: str) -> list[Entry]:
    exact = lists.entry(key, text)
    if exact:
        return [exact]
    called = lists.traced(key, tokens_for("name", text)) if text else ()
    if called:
        return list(called)
    wanted = text.casefold()
    alike = lists.named_like(key, [text], MOST_FOUND, LEAST_MEANT) if text else ()
    within = [entry for entry in alike if any(wanted in name.casefold() for name in entry.names)]
    return within or list(alike)


def _kept(change: Change, key: str) -> DocumentEntry:
    kept = next((one for one in entries_kept(change.session, change.document.id or 0) if one.list == key), None)
    if kept is None:
        raise Missing("The document was not looked up in that list.")
    return kept


def _choose(change: Change, seen: Seen, key: str, entry: Entry, remember: bool) -> None:
    kept = _kept(change, key)
    kept.entry, kept.person_id = entry.key, seen.person_id
    change.session.add(kept)
    for rule_key, finder in _using(change.doc_type, key):
        rule, value = change.field(rule_key)
        said = entry.values.get(finder.column, "").strip()
        value.value = (rule.kind.parse(said, change.style) or said) if said else None
        value.raw, value.page, value.box, value.doubt, value.doubtful = said, None, [], "", []
        value.confidence, value.finder = 1.0, FromList.code()
        value.reason = f"as the list {entry.list.name} says of {entry.label}, which a person chose"
        value.state, value.settled_by_id = ValueState.SETTLED, seen.person_id
        change.session.add(value)
    for check in change.doc_type.checks:
        if isinstance(check, AgreesWithOrder) and check.list == key:
            set_typed(change, seen, check.field, entry.key)
    if remember:
        _remember(change, seen, key, entry)
    change.session.flush()


def _using(doc_type: DocumentType, key: str) -> Iterator[tuple[str, FromList]]:
    """The fields that are filled from the list, each with how."""
    for rule in doc_type.fields:
        for finder in rule.finders:
            if isinstance(finder, FromList) and finder.list == key:
                yield rule.key, finder


def _remember(change: Change, seen: Seen, key: str, entry: Entry) -> None:
    """The entry is known by the name that stands on this paper, too. Accounts are never remembered so."""
    known = list_named(change.session, key)
    named_by = {finder.named_by for _, finder in _using(change.doc_type, key)}
    for field in filter(None, named_by):
        text = (change.values[field].value or "").strip() if field in change.values else ""
        if not known or not text or text in entry.names:
            continue
        for token in tokens_for("name", text):
            alias = ListAlias(
                list_id=known.id or 0, key=entry.key, says="name", text=text[:200], token=token,
                person_id=seen.person_id, document_id=seen.document_id,
            )  # fmt: skip
            change.session.add(alias)
