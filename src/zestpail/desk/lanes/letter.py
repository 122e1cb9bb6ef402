"""The letter of a lane as a person reads and changes it: a draft beside what is in force, sentence by sentence."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any, get_args

from pydantic import ValidationError
from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.reading.preparation.cleaning import Cleaning
from zestpail.core.reading.read import Way
from zestpail.core.teaching.field_proposal import key_for
from zestpail.core.writing.file_names import AnyPart, CounterPart, FieldPart, Naming, TextPart
from zestpail.delivery import FolderDestination
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import (
    lane_of_key,
    revision_named,
    type_names,
)
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.documents.transitions import try_again
from zestpail.desk.lanes.letter_form import LetterForm, days_of, destinations_of, form_of, separation_of, where_it_goes
from zestpail.desk.lanes.naming_choices import TYPE, choices, line_of, naming_of
from zestpail.desk.lanes.newer_revisions import has_newer, with_newest
from zestpail.desk.lanes.sentences import Line, setting_lines
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings, TypeUsed
from zestpail.store.queries.access import Closed, open_lanes
from zestpail.store.queries.types import newest_revisions
from zestpail.store.states import DocumentState
from zestpail.store.tables import Batch, Document, Lane, LaneTrial, TypeRevision

RECENT = 200
"""Documents of a lane that are looked at for what sheets give."""


@dataclass(frozen=True)
class LetterView:
    key: str
    name: str
    lines: list[Line]
    settings: LaneSettings
    form: LetterForm
    changes: list[str]
    """Sentences that are not in force yet."""
    types: list[tuple[str, str]]
    named_by: list[str]
    """What a name can be made of."""
    lanes: list[tuple[str, str]]
    """Other lanes, to which documents can be handed on."""
    in_force_mail: tuple[str, ...]
    """To whom sheets may have documents sent now."""
    newer: bool
    """Whether a newer revision of one of its types is published."""


def letter_view(store: Store, key: str) -> LetterView:
    """The draft of the lane's letter, or what is in force where there is no draft. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        names = type_names(session)
        lane_settings, in_force = draft_of(lane), lane.settings
        named_by, newest = known_values(session, lane, lane_settings), newest_revisions(session)
        lanes = {one.key: one.name for one in session.exec(select(Lane).order_by(col(Lane.id))) if one.key != key}
    naming = line_of(lane_settings.naming, named_by)
    lines = list(setting_lines(lane_settings, names, lanes, naming, newest))
    before = list(setting_lines(in_force, names, lanes, line_of(in_force.naming, named_by), newest))
    changes = [new.part for new, old in zip(lines, before, strict=True) if new.pieces != old.pieces]
    types = sorted(names.items(), key=lambda named: named[1])
    return LetterView(
        key=key,
        name=lane.name,
        lines=lines,
        settings=lane_settings,
        form=form_of(lane_settings, naming),
        changes=changes,
        types=types,
        named_by=list(named_by),
        lanes=list(lanes.items()),
        in_force_mail=in_force.mail.allowed if in_force.mail else (),
        newer=has_newer(lane_settings, newest),
    )


def draft_of(lane: Lane) -> LaneSettings:
    """The settings as they are being changed, or the active ones."""
    return lane.draft or lane.settings


def change_letter(
    store: Store, key: str, part: str, form: LetterForm, person: SignedIn, allowed: Sequence[Path] = ()
) -> None:
    """Change one sentence of the draft; where documents go is changed by administrators only.

    Raises NotDone with a sentence for settings that cannot be.
    """
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        lane_settings = draft_of(lane)
        if not person.administrator:
            form = form.model_copy(update=where_it_goes(lane_settings))
        try:
            changed = LaneSettings.model_validate(
                {**dict(lane_settings), **_settings(session, lane, lane_settings, part, form, allowed)}
            )
        except ValidationError as error:
            message = error.errors()[0]["msg"].removeprefix("Value error, ")
            raise NotDone(f"Not possible: {message[:1].lower()}{message[1:]}. Nothing was changed.") from error
        lane.draft = changed if changed != lane.settings else None
        note(session, "draft_changed", person_id=person.id, after={"lane": key, "part": part})


def use_newest(store: Store, key: str, person_id: int) -> None:
    """The draft reads with the newest revisions of its types."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        changed = with_newest(draft_of(lane), newest_revisions(session))
        note(session, "draft_changed", person_id=person_id, after={"lane": key, "part": "types"})
        lane.draft = changed if changed != lane.settings else None


def put_in_force(store: Store, key: str, person_id: int) -> None:
    """What arrives from now on goes by the draft, and what is stuck is tried by it. Raises NotDone without a draft."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        if not lane.draft:
            raise NotDone("Nothing was changed since the settings were activated.")
        _no_circle(session, lane, lane.draft)  # another lane's letter may have changed meanwhile
        note(session, "draft_put_in_force", person_id=person_id,
             before={"lane": key, "settings": lane.settings.model_dump(mode="json")},
             after={"lane": key, "settings": lane.draft.model_dump(mode="json")})  # fmt: skip
        lane.settings, lane.draft = with_revisions(lane.draft, lane.settings), None
        stuck = select(Document).join(Batch, col(Document.batch_id) == col(Batch.id))
        for document in session.exec(stuck.where(Batch.lane_id == lane.id, Document.state == DocumentState.STUCK)):
            try_again(session, document, person_id)


def with_revisions(draft: LaneSettings, active: LaneSettings) -> LaneSettings:
    """The draft as it becomes active: each destination that it changes has another revision."""
    before = {one.id: one for one in active.destinations}
    numbered = []
    for one in draft.destinations:
        known = before.get(one.id)
        number = known.revision + (one.model_copy(update={"revision": known.revision}) != known) if known else 1
        numbered.append(one.model_copy(update={"revision": number}))
    return draft.model_copy(update={"destinations": tuple(numbered)})


def discard_draft(store: Store, key: str, person_id: int) -> None:
    """Back to what is in force; the draft stays in the trail."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        draft = lane.draft.model_dump(mode="json") if lane.draft else {}
        note(session, "draft_discarded", person_id=person_id, before={"lane": key, "settings": draft})
        lane.draft = None


def begin_lane(store: Store, name: str, type_key: str, person_id: int) -> str:
    """A lane of that name that reads with that type; returns its key. Raises NotDone."""
    called = " ".join(name.split())
    if not called or len(called) > 80:
        raise NotDone("A lane needs a name of at most 80 characters.")
    with store.transaction() as session:
        used = _latest(session, type_key)
        taken = {lane.key for lane in session.exec(select(Lane))}
        key = key_for(called, list(taken)).replace("_", "-")
        if key in taken:
            raise NotDone("There is a lane of that name already.")
        naming = Naming(file=(FieldPart(key=TYPE), TextPart(text=" "), CounterPart()))
        lane_settings = LaneSettings(
            type=used.key,
            revision=used.revision,
            naming=naming,
            destinations=(FolderDestination(folder=key, csv=f"{key}.csv", xlsx=f"{key}.xlsx"),),
        )
        session.add(Lane(key=key, name=called, settings=lane_settings))
        note(session, "lane_begun", person_id=person_id, after={"lane": key, "message": called})
        return key


def lane_list(store: Store, closed: Closed = ()) -> tuple[list[tuple[str, str, str]], list[tuple[str, str]]]:
    """Every lane (key, name, how it cuts what arrives), and the types that a new one could read with."""
    with store.transaction() as session:
        lanes = open_lanes(session, closed)
        rows = [(lane.key, lane.name, lane.settings.separation.sentence) for lane in lanes]
        return rows, sorted(type_names(session).items(), key=lambda named: named[1])


def _settings(
    session: Session, lane: Lane, lane_settings: LaneSettings, part: str, form: LetterForm, allowed: Sequence[Path]
) -> dict[str, Any]:
    match part:
        case "separation":
            return {"separation": separation_of(form)}
        case "types":
            wanted = [_latest(session, key) for key in dict.fromkeys([form.type, *form.other_types])]
            return {"type": wanted[0].key, "revision": wanted[0].revision, "other_types": tuple(wanted[1:])}
        case "reading":
            cleaning = Cleaning.model_validate({name: getattr(form, name) for name in Cleaning.model_fields})
            return {"reading": form.way if form.way in get_args(Way) else "ordinary", "cleaning": cleaning}
        case "review":
            below = form.review_below / 100, form.review_others_below / 100
            as_told = (form.review_below, form.review_others_below) == tuple(
                round(100 * now) for now in (lane_settings.review_below, lane_settings.review_others_below)
            )
            if as_told:  # the form shows whole per cents
                below = lane_settings.review_below, lane_settings.review_others_below
            return {"review_below": below[0], "review_others_below": below[1],
                    "review_aim": lane_settings.review_aim if as_told else None,
                    "take_back_seconds": form.take_back_seconds, "learns": form.learns}  # fmt: skip
        case "delivery":
            naming = naming_of(form.naming, known_values(session, lane, lane_settings))
            destinations = destinations_of(form, lane_settings, allowed)
            _no_circle(session, lane, lane_settings.model_copy(update={"destinations": destinations}))
            return {"naming": naming, "notes": form.notes, "destinations": destinations}
        case "keeping":
            return {"kept_days": days_of(form.kept_days)}
        case _:
            raise Missing("The letter has no such sentence.")


def _latest(session: Session, key: str) -> TypeUsed:
    """The newest published revision of a type. Raises NotDone if there is none."""
    wanted = select(TypeRevision).where(TypeRevision.key == key).order_by(col(TypeRevision.number).desc())
    newest = session.exec(wanted).first()
    if newest is None:
        raise NotDone("There is no published revision of that document type. Nothing was changed.")
    return TypeUsed(key=key, revision=newest.number)


def known_values(session: Session, lane: Lane, lane_settings: LaneSettings) -> dict[str, AnyPart]:
    """What a name can be made of: fields of the lane's types, and what sheets, barcodes and e-mails give."""
    revisions = [
        revision_named(session, lane_settings, used.key)
        for used in (TypeUsed(key=lane_settings.type), *lane_settings.other_types)
    ]
    kinds = [DocumentType.model_validate(revision.body) for revision in revisions if revision]
    own = [lane_settings.separation.documents.gives]
    given = [name for name in (*own, *_given(session, lane), "mail_sender", "mail_subject") if name]
    return choices(kinds, given, lane_settings.naming)


def _given(session: Session, lane: Lane) -> list[str]:
    """What sheets and barcodes gave the lane's last documents, and those that it was tried on."""
    of_lane = (
        select(col(Document.origin))
        .join(Batch, col(Document.batch_id) == col(Batch.id))
        .where(Batch.lane_id == lane.id)
    )
    names = [name for origin in session.exec(of_lane.order_by(col(Document.id).desc()).limit(RECENT))
             for name in origin.given]  # fmt: skip
    for trial in session.exec(select(LaneTrial).where(LaneTrial.lane_id == lane.id)):
        names += [name for document in trial.result.get("documents", []) for name in document.get("given", [])]
    return list(dict.fromkeys(names))


def _no_circle(session: Session, lane: Lane, lane_settings: LaneSettings) -> None:
    """Raises NotDone where what is handed on would come back to this lane."""
    at, seen = lane_settings.next_lane, [lane.key]
    while at:
        if at.lane in seen:
            raise NotDone("Documents would be handed on in a circle. Nothing was changed.")
        seen.append(at.lane)
        at = lane_of_key(session, at.lane).settings.next_lane
