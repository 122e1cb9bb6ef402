"""The life of a document type: begun or adopted, edited as a draft, published as revisions, brought back."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from pydantic import ValidationError
from slugify import slugify
from sqlmodel import Session, col, func, select

from zestpail.core.document_type import DocumentType, load_type, starters
from zestpail.desk.documents.audit import Act, note
from zestpail.desk.documents.journal import undo_last, write_down
from zestpail.desk.documents.messages import Missing, NotDone, Outdated
from zestpail.desk.documents.whole_types import keep_learned, rules_of, whole_type
from zestpail.store import Store
from zestpail.store.columns import now
from zestpail.store.notices import changed
from zestpail.store.queries.types import last_revision
from zestpail.store.tables import Person, Sample, TypeDraft, TypeRevision

ADDRESSES = ("starters", "import")
"""What stands for something else in the address of a type's page."""


@dataclass(frozen=True)
class TypeRow:
    """A document type in the list."""

    key: str
    name: str
    fields: int
    samples: int
    revision: int | None
    published_at: datetime | None
    changed: bool
    """Whether the draft differs from its last revision."""
    retired: bool


@dataclass(frozen=True)
class RevisionRow:
    number: int
    note: str
    published_at: datetime
    person: str | None


def types(store: Store) -> list[TypeRow]:
    """All types that are worked on, the retired ones last."""
    with store.transaction() as session:
        drafts = session.exec(select(TypeDraft).order_by(col(TypeDraft.retired_at).desc(), col(TypeDraft.key))).all()
        rows = [_row(session, draft) for draft in drafts]
        return sorted(rows, key=lambda row: (row.retired, row.name.casefold()))


def begin_type(store: Store, name: str, person_id: int) -> str:
    """A new type without fields; returns its key. Raises NotDone where the name says nothing."""
    plain = " ".join(name.split())[:60]
    key = _slug(plain)
    if not key:
        raise NotDone("Give the document type a name, such as “Fuel delivery note”.")
    return _begin(store, DocumentType(key=key, name=plain, fields=()), person_id, "type_begun")


def read_import(data: bytes) -> DocumentType:
    """The type in a file. Raises NotDone with what is wrong in it."""
    try:
        return DocumentType.model_validate(json.loads(data))
    except ValidationError as error:
        first = error.errors()[0]
        where = " → ".join(str(part) for part in first["loc"])
        message = first["msg"].removeprefix("Value error, ")
        place = f", at {where}" if where else ""
        raise NotDone(f"This is not a document type that can be read{place}: {message}.") from error
    except (ValueError, RecursionError) as error:
        raise NotDone("This is no JSON file. A document type is exported as one from its page.") from error


def import_type(store: Store, data: bytes, person_id: int) -> str:
    """Begin a type from a file, under a free key if its own is taken; returns the key. Raises NotDone."""
    return _begin(store, read_import(data), person_id, "type_imported")


def draft_of(session: Session, key: str) -> TypeDraft:
    """Raises Missing."""
    draft = session.exec(select(TypeDraft).where(TypeDraft.key == key)).first()
    if draft is None:
        raise Missing("There is no such document type.")
    return draft


def draft_type(store: Store, key: str) -> DocumentType:
    """The draft as it stands. Raises Missing."""
    with store.transaction() as session:
        return type_of_draft(draft_of(session, key))


def exported(store: Store, key: str) -> str:
    """The draft as the text of a file. Raises Missing."""
    return draft_type(store, key).model_dump_json(indent=1) + "\n"


def type_of_draft(draft: TypeDraft) -> DocumentType:
    return whole_type(draft)


def change(store: Store, key: str, version: int, doc_type: DocumentType, message: str, person_id: int) -> None:
    """Write an edit down, so that it can be taken back. Raises Outdated if somebody else edited in the meantime."""
    with store.transaction() as session:
        draft = draft_of(session, key)
        if draft.version != version:
            raise Outdated("Somebody else has changed this type in the meantime; here it is as it stands now.")
        body, learned = rules_of(doc_type), keep_learned(session, doc_type.learned)
        if (body, learned) == (draft.body, draft.learned):
            return
        write_down(session, subject_of(key), message, {"body": draft.body, "learned": draft.learned}, person_id)
        draft.body, draft.learned, draft.changed_at = body, learned, now()
        changed(session, f"type {key}")


def undo(store: Store, key: str) -> str:
    """Undo the last change of the draft; returns what it was. Raises NotDone if there is none."""
    with store.transaction() as session:
        draft = draft_of(session, key)

        def put_draft_back(before: dict[str, Any]) -> None:
            draft.body, draft.changed_at = before["body"], now()
            draft.learned = before.get("learned", draft.learned)
            _put_labels_back(session, before.get("labels", ()))

        entry = undo_last(session, subject_of(key), put_draft_back)
        changed(session, f"type {key}")
        return entry.message


def subject_of(key: str) -> str:
    """What changes of a draft are written down under."""
    return f"type {key}"


def _put_labels_back(session: Session, labels: Sequence[Mapping[str, Any]]) -> None:
    """What was said of samples in that change is as it was before; samples that are gone stay so."""
    for label in reversed(labels):
        sample = session.get(Sample, label["sample"], with_for_update=True)
        if sample:
            others = {key: kept for key, kept in sample.truth.items() if key != label["key"]}
            sample.truth = others if label["before"] is None else {**others, label["key"]: label["before"]}


def publish(store: Store, key: str, message: str, person_id: int) -> int:
    """Freeze the draft as the next revision; lanes go on with the one that they name. Raises NotDone."""
    with store.transaction() as session:
        draft = draft_of(session, key)
        doc_type = type_of_draft(draft)
        if not doc_type.fields and not doc_type.tables:
            raise NotDone("A type without fields and tables cannot be published. Add one on the bench first.")
        last = last_revision(session, key)
        if last and whole_type(last).model_copy(update={"revision": 0}) == doc_type.model_copy(update={"revision": 0}):
            raise NotDone(f"Nothing has changed since revision {last.number}.")
        number = last.number + 1 if last else 1
        body = rules_of(doc_type.model_copy(update={"revision": number}))
        session.add(
            TypeRevision(
                key=key, number=number, body=body, learned=draft.learned, note=message.strip()[:400],
                person_id=person_id,
            )
        )  # fmt: skip
        draft.body, draft.based_on = body, number
        note(session, "type_published", person_id=person_id, after={"type": key, "revision": number, "note": message})
        return number


def revisions(store: Store, key: str) -> list[RevisionRow]:
    """The published revisions, newest first."""
    with store.transaction() as session:
        found = session.exec(
            select(TypeRevision, Person.name)
            .join(Person, col(TypeRevision.person_id) == col(Person.id), isouter=True)
            .where(TypeRevision.key == key)
            .order_by(col(TypeRevision.number).desc())
        )
        return [RevisionRow(r.number, r.note, r.published_at, name) for r, name in found]


def revision(store: Store, key: str, number: int) -> DocumentType:
    """A published revision. Raises Missing."""
    with store.transaction() as session:
        wanted = select(TypeRevision).where(TypeRevision.key == key, TypeRevision.number == number)
        found = session.exec(wanted).first()
        if found is None:
            raise Missing("There is no such revision.")
        return whole_type(found)


def bring_back(store: Store, key: str, number: int, person_id: int) -> None:
    """Make the draft what a revision was; the step can be taken back like any other."""
    doc_type = revision(store, key, number)
    with store.transaction() as session:
        version = draft_of(session, key).version
    change(store, key, version, doc_type, f"went back to revision {number}", person_id)
    with store.transaction() as session:
        draft_of(session, key).based_on = number


def retire(store: Store, key: str, person_id: int, back: bool = False) -> None:
    """Put the type aside, or take it up again; nothing of it is lost."""
    with store.transaction() as session:
        draft_of(session, key).retired_at = None if back else now()
        note(session, "type_restored" if back else "type_retired", person_id=person_id, after={"type": key})


def find_type(store: Store, name_or_file: str) -> DocumentType:
    """A type by its key: the last published revision, else the draft, else a starter or a file. Raises Unreadable."""
    with store.transaction() as session:
        last = last_revision(session, name_or_file)
        if last:
            return whole_type(last)
        draft = session.exec(select(TypeDraft).where(TypeDraft.key == name_or_file)).first()
        if draft:
            return type_of_draft(draft)
    return load_type(name_or_file)


def _begin(store: Store, doc_type: DocumentType, person_id: int, what: Act) -> str:
    with store.transaction() as session:
        taken = set(session.exec(select(TypeDraft.key)).all()) | set(session.exec(select(TypeRevision.key)).all())
        taken |= {*starters(), *ADDRESSES} if what == "type_begun" else set(ADDRESSES)
        key = next(
            k for at in range(1, 10_000) if (k := doc_type.key if at == 1 else f"{doc_type.key}-{at}") not in taken
        )
        name = doc_type.name if key == doc_type.key else f"{doc_type.name} {key.removeprefix(doc_type.key).lstrip('-')}"
        named = doc_type.model_copy(update={"key": key, "name": name})
        session.add(TypeDraft(key=key, body=rules_of(named), learned=keep_learned(session, named.learned)))
        note(session, what, person_id=person_id, after={"type": key})
        return key


def _row(session: Session, draft: TypeDraft) -> TypeRow:
    doc_type, last = type_of_draft(draft), last_revision(session, draft.key)
    samples = session.exec(select(func.count()).select_from(Sample).where(Sample.type_key == draft.key)).one()
    same = (
        last is not None
        and last.learned == draft.learned
        and {**last.body, "revision": 0} == {**draft.body, "revision": 0}
    )
    return TypeRow(
        key=draft.key,
        name=doc_type.name,
        fields=len(doc_type.fields),
        samples=samples,
        revision=last.number if last else None,
        published_at=last.published_at if last else None,
        changed=not same,
        retired=draft.retired_at is not None,
    )


def _slug(name: str) -> str:
    slug = slugify(name)
    return slug if slug[:1].isalpha() else f"type-{slug}" if slug else ""
