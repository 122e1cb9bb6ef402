"""A document of the archive as a file: downloaded, as it arrived or as it stands now, or sent by e-mail."""

from __future__ import annotations

import uuid
from pathlib import PurePosixPath
from typing import NamedTuple

from zestpail.core.writing.file_names import safe_name
from zestpail.core.writing.renditions import Rendition
from zestpail.delivery import Parcel, Post, Refused
from zestpail.desk.delivery.drawing import rendered_now
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.store import Store
from zestpail.store.tables import ArrivedFile, Document


class NamedFile(NamedTuple):
    name: str
    data: bytes


class Letter(NamedTuple):
    """An e-mail as somebody wrote it."""

    to: str
    subject: str
    text: str


def as_it_arrived(store: Store, document_id: int) -> NamedFile:
    """The file that the document arrived in, untouched; of a pile it holds the others too. Raises Missing."""
    with store.transaction() as session:
        document = session.get(Document, document_id)
        file = session.get_one(ArrivedFile, document.file_id) if document else None
    if file is None or not file.blob:
        raise Missing("There is no such document, or the file that it arrived in is not kept any more.")
    return NamedFile(PurePosixPath(file.name).name, store.blobs.get(file.blob))


def as_it_stands(store: Store, document_id: int, form: Rendition) -> NamedFile:
    """The document now, with what is blacked out and noted on it. Raises Missing, NotDone."""
    with store.transaction() as session:
        document = session.get(Document, document_id)
        if document is None:
            raise Missing("There is no such document.")
        stem = PurePosixPath(session.get_one(ArrivedFile, document.file_id).name).stem
    try:
        made = rendered_now(store, document_id, form)
    except Refused as problem:
        raise NotDone(str(problem)) from problem
    if made is None:
        raise NotDone("No page of this document was read, so there is nothing to show.")
    return NamedFile(f"{safe_name(stem) or 'document'}-{document_id}{made.suffix}", made.data)


def send(store: Store, post: Post | None, document_id: int, letter: Letter, person_id: int) -> str:
    """Send the document as PDF; returns a sentence that says so. Raises Missing, NotDone with the reason."""
    to = letter.to.strip()
    user, at, domain = to.partition("@")
    if not (user and at and domain) or any(c.isspace() or c in ",;<>" for c in to) or len(to) > 254:
        raise NotDone(f"“{to[:80]}” is no e-mail address. One document is sent to one address.")
    if post is None:
        raise NotDone("No server for outgoing e-mail is set up.")
    file = as_it_stands(store, document_id, "searchable_pdf")
    subject = " ".join(letter.subject.split())[:200] or file.name
    parcel = Parcel(to, subject, letter.text[:10_000], ((file.name, file.data),), f"archive-{uuid.uuid4()}")
    try:
        post.send(parcel)
    except Refused as problem:
        raise NotDone(str(problem)) from problem
    with store.transaction() as session:
        note(session, "sent_on", document=session.get_one(Document, document_id), person_id=person_id,
             after={"message": f"to {to}"})  # fmt: skip
    return f"Sent to {to}."
