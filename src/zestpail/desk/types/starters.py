"""The shelf of starters: searched, looked at, tried on files of one's own, adopted."""

from __future__ import annotations

from dataclasses import dataclass

from sqlmodel import Session, select

from zestpail.core.document_type import DocumentType, load_type, starters
from zestpail.core.document_type.sentences import sentence
from zestpail.core.evaluation.proof import Sample as ProofSample
from zestpail.core.evaluation.proof import prove
from zestpail.core.reading.geometry import Box
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.whole_types import keep_learned, rules_of, whole_type
from zestpail.desk.types import samples
from zestpail.store import Store
from zestpail.store.queries.samples import pages_of_sample, samples_of
from zestpail.store.queries.types import last_revision
from zestpail.store.states import PageState, SampleState
from zestpail.store.tables import Sample, TypeDraft


@dataclass(frozen=True)
class StarterRow:
    """A starter on the shelf."""

    key: str
    name: str
    about: str
    fields: tuple[str, ...]
    adopted: bool


@dataclass(frozen=True)
class TriedValue:
    """What the starter finds for a field or table: where its snippet is cut, and how sure it is."""

    field: str
    shown: str
    confidence: float
    page_id: int | None
    box: Box | None


@dataclass(frozen=True)
class Tried:
    """A file that the starter was tried on."""

    id: int
    name: str
    state: str
    problem: str | None
    values: list[TriedValue]

    @property
    def found(self) -> int:
        return sum(bool(value.shown) for value in self.values)


@dataclass(frozen=True)
class StarterView:
    """A starter with its rules and checks as sentences, and what it found on the files it was tried on."""

    row: StarterRow
    rules: list[tuple[str, str]]
    checks: list[str]
    tries: list[Tried]

    @property
    def usable(self) -> int:
        """How many of the files become samples when it is adopted."""
        return sum(tried.problem is None for tried in self.tries)


def starter_rows(store: Store, wanted: str = "") -> list[StarterRow]:
    """The starters that have all the wanted words in their name, description or fields."""
    with store.transaction() as session:
        adopted = set(session.exec(select(TypeDraft.key)).all())
    rows = [_row(load_type(key), adopted) for key in starters()]
    words = wanted.casefold().split()
    return [row for row in rows if all(word in _message(row) for word in words)]


def starter_view(store: Store, key: str) -> StarterView:
    """The starter, to be looked at before it is adopted. Raises Missing."""
    doc_type = _starter(key)
    with store.transaction() as session:
        adopted = set(session.exec(select(TypeDraft.key)).all())
        proof = samples.proof_samples(store, session, tries_of(key))
        tries = [_tried(session, doc_type, row, proof) for row in samples_of(session, tries_of(key))]
    return StarterView(
        row=_row(doc_type, adopted),
        rules=[
            *(
                (field.name, sentence(field, field.key in doc_type.required(), doc_type.names))
                for field in doc_type.fields
            ),
            *((table.name, table.sentence) for table in doc_type.tables),
        ],
        checks=[check.sentence(doc_type.all_names) for check in doc_type.checks],
        tries=tries[::-1],
    )


def try_starter(store: Store, key: str, name: str, data: bytes, person_id: int) -> int:
    """Keep a file and put it to reading, to see what the starter finds on it. Raises Missing."""
    _starter(key)
    return samples.keep_sample(store, tries_of(key), name, data, person_id)


def adopt(store: Store, starter: str, person_id: int) -> str:
    """Work on a starter as a type of one's own, from the published revision if lanes use it; returns its key.

    The files that it was tried on become its first samples.
    """
    doc_type = _starter(starter)
    with store.transaction() as session:
        for tried in samples_of(session, tries_of(starter)):
            if tried.state != SampleState.REFUSED:
                tried.type_key = starter
        if session.exec(select(TypeDraft).where(TypeDraft.key == starter)).first():
            return starter
        last = last_revision(session, starter)
        doc_type = whole_type(last) if last else doc_type
        learned, number = keep_learned(session, doc_type.learned), last.number if last else None
        session.add(TypeDraft(key=starter, body=rules_of(doc_type), learned=learned, based_on=number))
        note(session, "starter_adopted", person_id=person_id, after={"type": starter})
    return starter


def tries_of(key: str) -> str:
    """What the files a starter is tried on are kept under; no type can have that key."""
    return f"starter {key}"


def _starter(key: str) -> DocumentType:
    if key not in starters():
        raise Missing("There is no such starter.")
    return load_type(key)


def _row(doc_type: DocumentType, adopted: set[str]) -> StarterRow:
    return StarterRow(
        doc_type.key,
        doc_type.name,
        doc_type.about,
        tuple(field.name for field in doc_type.fields),
        doc_type.key in adopted,
    )


def _message(row: StarterRow) -> str:
    return " ".join((row.name, row.about, *row.fields)).casefold()


def _tried(session: Session, doc_type: DocumentType, row: Sample, proof: list[ProofSample]) -> Tried:
    number = row.id or 0
    sample = next((one for one in proof if one.id == number), None)
    values: list[TriedValue] = []
    if sample and row.state == SampleState.READY:
        pages = [page.id for page in pages_of_sample(session, number) if page.state == PageState.READ]
        proved = prove(doc_type, [sample])[number]
        for field in doc_type.fields:
            found = proved[field.key].found
            shown = field.kind.show(found.value) if found.value else ""
            page = pages[found.page] if found.page is not None else None
            values.append(TriedValue(field.name, shown, found.confidence, page, found.box))
        for table in doc_type.tables:
            found = proved[table.key].found
            values.append(TriedValue(table.name, found.raw, found.confidence, None, None))
    return Tried(number, row.name, row.state, row.problem, values)
