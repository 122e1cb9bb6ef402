"""The letter of a lane as a person reads and changes it: a draft beside what is in force, sentence by sentence."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, get_args

from pydantic import BaseModel, ValidationError
from sqlmodel import Session, col, select

from zestpail.core.document_type import DocumentType
from zestpail.core.reading.features.barcodes import KINDS
from zestpail.core.reading.preparation.cleaning import Cleaning
from zestpail.core.reading.read import Way
from zestpail.core.separation import (
    AtBarcode,
    AtWords,
    EveryPages,
)
from zestpail.core.teaching.field_proposal import key_for
from zestpail.core.writing.file_names import CounterPart, FieldPart, Naming
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import (
    lane_of_key,
    letter_of,
    revision_named,
    type_names,
)
from zestpail.desk.documents.lane_settings import Letter, TypeUsed
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.lanes.naming_choices import (
    BETWEEN,
    TYPE,
    choices,
    folders_of,
    naming_of,
    parts_of,
)
from zestpail.desk.lanes.sentences import Line, letter_lines
from zestpail.store import Store
from zestpail.store.tables import Batch, Document, Lane, LaneTrial, TypeRevision

RECENT = 200
"""Documents of a lane that are looked at for what sheets give."""
BARCODES = KINDS
BEGINNINGS = ("each file", "every so many pages", "at a barcode", "at a printed sheet", "at a blank page", "at words")


class LetterForm(BaseModel):
    """What the dialogs of all sentences send; a dialog sends the settings of its own sentence."""

    bundles: str = ""
    bundles_begin_with: str = ""
    begin: str = "each file"
    pages: int = 1
    begins_with: str = ""
    never: str = ""
    pattern: str = ""
    on: str = "the first page"
    symbology: str = ""
    how_many: int = 1
    field: str = ""
    words: str = ""
    blank_pages: str = "kept"
    sheets: str = "left out"
    goes_on: str = "at once"
    type: str = ""
    other_types: list[str] = []
    skew: str = "straightened"
    borders: str = "kept"
    holes: str = "kept"
    specks: str = "kept"
    colours: str = "as scanned"
    way: str = "ordinary"
    notes: str = "kept here"
    mail_to: str = ""
    hand_on: str = ""
    review_below: float = 90
    review_others_below: float = 60
    take_back_seconds: int = 5
    folders: list[str] = []
    parts: list[str] = []
    folder: str = ""
    csv: str = ""
    xlsx: str = ""


@dataclass(frozen=True)
class LetterView:
    key: str
    name: str
    lines: list[Line]
    letter: Letter
    form: LetterForm
    changes: list[str]
    """Sentences that are not in force yet."""
    types: list[tuple[str, str]]
    named_by: list[tuple[str, str]]
    """What a name can be made of."""
    lanes: list[tuple[str, str]]
    """Other lanes, to which documents can be handed on."""
    in_force_mail: tuple[str, ...]
    """To whom sheets may have documents sent now."""


def letter_view(store: Store, key: str) -> LetterView:
    """The draft of the lane's letter, or what is in force where there is no draft. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        names = type_names(session)
        letter, in_force = draft_of(lane), letter_of(lane)
        named_by = _known(session, lane, letter)
        lanes = {one.key: one.name for one in session.exec(select(Lane).order_by(col(Lane.id))) if one.key != key}
    lines, before = list(letter_lines(letter, names, lanes)), list(letter_lines(in_force, names, lanes))
    changes = [new.part for new, old in zip(lines, before, strict=True) if new.pieces != old.pieces]
    types = sorted(names.items(), key=lambda named: named[1])
    return LetterView(key, lane.name, lines, letter, _form(letter), changes, types, named_by, list(lanes.items()),
                      in_force.mail_to)  # fmt: skip


def draft_of(lane: Lane) -> Letter:
    """The letter as it is being changed."""
    return Letter.model_validate(lane.draft) if lane.draft else letter_of(lane)


def change_letter(store: Store, key: str, part: str, form: LetterForm, person_id: int) -> None:
    """Change one sentence of the draft. Raises NotDone with a sentence for settings that cannot be."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        letter = draft_of(lane)
        try:
            changed = Letter.model_validate({**letter.model_dump(), **_settings(session, lane, letter, part, form)})
        except ValidationError as error:
            said = error.errors()[0]["msg"].removeprefix("Value error, ")
            raise NotDone(f"This cannot be: {said[:1].lower()}{said[1:]}. Nothing was changed.") from error
        lane.draft = changed.model_dump(mode="json")
        if changed == letter_of(lane):
            lane.draft = {}
        note(session, "letter changed", person_id=person_id, after={"lane": key, "part": part})


def put_in_force(store: Store, key: str, person_id: int) -> None:
    """What arrives from now on goes by the draft. Raises NotDone without a draft."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        if not lane.draft:
            raise NotDone("Nothing was changed since the letter was put in force.")
        _handed_on(session, lane, draft_of(lane).hand_on)  # another lane's letter may have changed meanwhile
        note(session, "letter put in force", person_id=person_id,
             before={"lane": key, "letter": lane.letter}, after={"lane": key, "letter": lane.draft})  # fmt: skip
        lane.letter, lane.draft = lane.draft, {}


def discard_draft(store: Store, key: str, person_id: int) -> None:
    """Back to what is in force; the draft stays in the trail."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        note(session, "letter's draft discarded", person_id=person_id, before={"lane": key, "letter": lane.draft})
        lane.draft = {}


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
        naming = Naming(file=(FieldPart(key=TYPE), BETWEEN, CounterPart()))
        letter = Letter(
            type=used.key, revision=used.revision, folder=key, naming=naming, csv=f"{key}.csv", xlsx=f"{key}.xlsx"
        )
        session.add(Lane(key=key, name=called, letter=letter.model_dump(mode="json")))
        note(session, "lane begun", person_id=person_id, after={"lane": key, "said": called})
        return key


def lane_list(store: Store) -> tuple[list[tuple[str, str, str]], list[tuple[str, str]]]:
    """Every lane (key, name, how it cuts what arrives), and the types that a new one could read with."""
    with store.transaction() as session:
        lanes = session.exec(select(Lane).order_by(col(Lane.id)))
        rows = [(lane.key, lane.name, letter_of(lane).separation.sentence) for lane in lanes]
        return rows, sorted(type_names(session).items(), key=lambda named: named[1])


def _settings(session: Session, lane: Lane, letter: Letter, part: str, form: LetterForm) -> dict[str, Any]:
    match part:
        case "separation":
            return {"separation": _separation(form)}
        case "types":
            wanted = [_latest(session, key) for key in dict.fromkeys([form.type, *form.other_types])]
            return {"type": wanted[0].key, "revision": wanted[0].revision, "other_types": tuple(wanted[1:])}
        case "reading":
            cleaning = Cleaning.model_validate({name: getattr(form, name) for name in Cleaning.model_fields})
            return {"reading": form.way if form.way in get_args(Way) else "ordinary", "cleaning": cleaning}
        case "review":
            return {"review_below": form.review_below / 100, "review_others_below": form.review_others_below / 100,
                    "take_back_seconds": form.take_back_seconds}  # fmt: skip
        case "delivery":
            naming = naming_of(form.folders, form.parts, _known(session, lane, letter))
            return {
                "naming": naming,
                "notes": form.notes,
                "hand_on": _handed_on(session, lane, form.hand_on),
                "mail_to": tuple(_addresses(form.mail_to)),
                **{n: _plain_name(getattr(form, n), n) for n in ("folder", "csv", "xlsx")},
            }
        case _:
            raise Missing("The letter has no such sentence.")


def _separation(form: LetterForm) -> dict[str, Any]:
    document: dict[str, Any] = {"begin": form.begin}
    match form.begin:
        case "every so many pages":
            document["pages"] = form.pages
        case "at a barcode":
            document |= {name: getattr(form, name).strip() for name in ("begins_with", "never", "pattern", "field")}
            document |= {"on": form.on, "how_many": form.how_many}
            document["symbologies"] = (form.symbology,) if form.symbology in KINDS else ()
        case "at words":
            words = tuple(line.strip() for line in form.words.splitlines() if line.strip())
            if not words:
                raise NotDone("Say the words at which a document begins. Nothing was changed.")
            document["words"] = words
    bundles: dict[str, Any] | None = {"begin": form.bundles} if form.bundles else None
    if bundles and form.bundles == "at a barcode":
        bundles |= {"begins_with": form.bundles_begin_with.strip(), "on": "a sheet of its own"}
    return {"bundles": bundles, "documents": document, "blank_pages": form.blank_pages, "sheets": form.sheets,
            "goes_on": form.goes_on}  # fmt: skip


def _latest(session: Session, key: str) -> TypeUsed:
    """The newest published revision of a type. Raises NotDone if there is none."""
    wanted = select(TypeRevision).where(TypeRevision.key == key).order_by(col(TypeRevision.number).desc())
    newest = session.exec(wanted).first()
    if newest is None:
        raise NotDone("There is no published revision of that document type. Nothing was changed.")
    return TypeUsed(key=key, revision=newest.number)


def _known(session: Session, lane: Lane, letter: Letter) -> list[tuple[str, str]]:
    """What a name can be made of: fields of the lane's types, and what sheets, barcodes and e-mails give."""
    revisions = [revision_named(session, letter, used.key) for used in (TypeUsed(key=letter.type), *letter.other_types)]
    kinds = [DocumentType.model_validate(revision.body) for revision in revisions if revision]
    own = [letter.separation.documents.field] if isinstance(letter.separation.documents, AtBarcode) else []
    given = [name for name in (*own, *_given(session, lane), "mail_sender", "mail_subject") if name]
    return choices(kinds, given, letter.naming)


def _given(session: Session, lane: Lane) -> list[str]:
    """What sheets and barcodes gave the lane's last documents, and those that it was tried on."""
    of_lane = select(Document.cut).join(Batch, col(Document.batch_id) == col(Batch.id)).where(Batch.lane_id == lane.id)
    names = [name for cut in session.exec(of_lane.order_by(col(Document.id).desc()).limit(RECENT))
             for name in cut.get("given", {})]  # fmt: skip
    for trial in session.exec(select(LaneTrial).where(LaneTrial.lane_id == lane.id)):
        names += [name for document in trial.result.get("documents", []) for name in document.get("given", [])]
    return list(dict.fromkeys(names))


def _handed_on(session: Session, lane: Lane, key: str) -> str:
    """The lane to hand on to. Raises NotDone for what would come back to this one."""
    at, seen = key, [lane.key]
    while at:
        if at in seen:
            raise NotDone("Documents would be handed on in a circle. Nothing was changed.")
        seen.append(at)
        at = letter_of(lane_of_key(session, at)).hand_on
    return key


def _addresses(text: str) -> Iterator[str]:
    for line in filter(None, map(str.strip, text.lower().splitlines())):
        user, at, domain = line.partition("@")
        if not at or not domain or any(c.isspace() or not c.isprintable() or c in "@,;<>" for c in user + domain):
            raise NotDone(f"“{line[:60]}” is no address, and no domain such as @example.org. Nothing was changed.")
        yield line


def _plain_name(text: str, what: str) -> str:
    name = text.strip()
    extension = "" if what == "folder" else f".{what}"
    if not name or "/" in name or "\\" in name or name.startswith(".") or not name.isprintable() or len(name) > 100:
        raise NotDone("A name for a file or folder is needed, without / and not beginning with a dot.")
    return name if name.endswith(extension) else name + extension


def _form(letter: Letter) -> LetterForm:
    rules, document = letter.separation, letter.separation.documents
    form = LetterForm(
        bundles=rules.bundles.begin if rules.bundles else "",
        bundles_begin_with=rules.bundles.begins_with if isinstance(rules.bundles, AtBarcode) else "",
        begin=document.begin, blank_pages=rules.blank_pages, sheets=rules.sheets, goes_on=rules.goes_on,
        type=letter.type, other_types=[used.key for used in letter.other_types], way=letter.reading,
        notes=letter.notes, hand_on=letter.hand_on, mail_to="\n".join(letter.mail_to), **letter.cleaning.model_dump(),
        review_below=round(100 * letter.review_below), review_others_below=round(100 * letter.review_others_below),
        take_back_seconds=letter.take_back_seconds, folder=letter.folder, csv=letter.csv, xlsx=letter.xlsx,
        folders=folders_of(letter.naming), parts=parts_of(letter.naming),
    )  # fmt: skip
    if isinstance(document, EveryPages):
        form.pages = document.pages
    if isinstance(document, AtWords):
        form.words = "\n".join(document.words)
    if isinstance(document, AtBarcode):
        own = document.model_dump(include={"begins_with", "never", "pattern", "on", "how_many", "field"})
        form = form.model_copy(update={**own, "symbology": next(iter(document.symbologies), "")})
    return form
