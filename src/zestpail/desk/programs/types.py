"""Document types set up by a program: with a token for it, in the name of whom the token is of."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any, NamedTuple

from zestpail.core.document_type import DocumentType
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.people.tokens import Holder
from zestpail.desk.types import drafts
from zestpail.desk.types.drafts import RevisionRow
from zestpail.store import Store
from zestpail.store.states import Scope


class TypeDraftTold(NamedTuple):
    """A type as it is worked on, and its version."""

    doc_type: DocumentType
    version: int


def begin(store: Store, holder: Holder, body: Mapping[str, Any]) -> str:
    """Begin a type from the content of its file; returns its key. Raises NotAllowed, NotDone with what is wrong."""
    holder.must_have(Scope.SET_UP)
    return drafts.import_type(store, json.dumps(body).encode(), holder.person_id)


def draft_told(store: Store, holder: Holder, key: str) -> TypeDraftTold:
    """The draft as it stands. Raises NotAllowed, Missing."""
    holder.must_have(Scope.SET_UP)
    with store.transaction() as session:
        draft = drafts.draft_of(session, key)
        return TypeDraftTold(drafts.type_of_draft(draft), draft.version)


def replace(store: Store, holder: Holder, key: str, version: int, body: Mapping[str, Any]) -> TypeDraftTold:
    """Make the draft what the file says. Raises NotAllowed, Missing, Outdated, NotDone."""
    holder.must_have(Scope.SET_UP)
    doc_type = drafts.read_import(json.dumps(body).encode())
    if doc_type.key != key:
        raise NotDone(f"The file is of the type {doc_type.key}, not of {key}.")
    drafts.change(store, key, version, doc_type, "replaced by a program", holder.person_id)
    return draft_told(store, holder, key)


def publish(store: Store, holder: Holder, key: str, message: str) -> int:
    """Freeze the draft as the next revision; returns its number. Raises NotAllowed, Missing, NotDone."""
    holder.must_have(Scope.SET_UP)
    return drafts.publish(store, key, message, holder.person_id)


def revisions_told(store: Store, key: str) -> list[RevisionRow]:
    """The published revisions, the newest first. Raises Missing where there is none."""
    found = drafts.revisions(store, key)
    if not found:
        raise Missing("There is no such document type, or it was never published.")
    return found
