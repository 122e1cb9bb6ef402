"""Fields that are proposed on a sample: each is kept with one key or thrown away with another."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

from zestpail.core.document_type import DocumentType
from zestpail.core.evaluation.proof import tables_on
from zestpail.core.extraction.extract import extract
from zestpail.core.kinds import style_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.teaching.field_proposal import key_for
from zestpail.core.teaching.proposals import Proposal, ProposedTable, propose_all
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.types import samples as kept_samples
from zestpail.desk.types.bench.edits import At, document_at, write
from zestpail.desk.types.drafts import draft_type
from zestpail.desk.types.samples import Label
from zestpail.store import Store
from zestpail.store.notices import changed
from zestpail.store.tables import Sample


@dataclass(frozen=True)
class ProposalCard:
    """A proposal as the bench shows it."""

    id: str
    name: str
    kind: str
    shown: str
    page: int
    box: Box


@dataclass(frozen=True)
class Proposals:
    """What is proposed on the sample at hand, and how much was thrown away there."""

    cards: list[ProposalCard]
    thrown: int


def proposals_on(doc_type: DocumentType, sample: Sample, document: DocumentReading) -> Proposals:
    """What may be a field on the sample and is none yet, without what was thrown away."""
    cards = [_card(one, document) for one in _proposed(doc_type, sample, document)]
    left = [card for card in cards if card.id not in sample.thrown]
    return Proposals(left, len(cards) - len(left))


def keep(store: Store, at: At, sample_id: int, ids: Collection[str]) -> str:
    """Make fields and tables of the proposals, labelled on the sample; returns the key of the last. Raises NotDone."""
    doc_type, document = draft_type(store, at.key), document_at(store, sample_id)
    kept = [one for one in _proposed(doc_type, _sample(store, sample_id), document) if id_of(one) in ids]
    if not kept:
        raise NotDone("That is not proposed any more.")
    fields = [one.rule for one in kept if isinstance(one, Proposal)]
    tables = [one.table for one in kept if isinstance(one, ProposedTable)]
    names = [*(rule.name for rule in fields), *(table.name for table in tables)]
    changed_type = doc_type.model_copy(
        update={"fields": (*doc_type.fields, *fields), "tables": (*doc_type.tables, *tables)}
    )  # fmt: skip
    told = f"added the field {names[0]}" if len(names) == 1 else f"added {len(names)} fields"
    write(store, at, changed_type, told)
    for one in kept:
        if isinstance(one, Proposal) and (value := _value(one, document)):
            kept_samples.label(store, sample_id, one.rule.key, Label(value, one.page, one.box))
    return fields[-1].key if fields else tables[-1].key


def throw_away(store: Store, sample_id: int, ids: Collection[str]) -> None:
    """Show these proposals no more on the sample; none of them brings all that were thrown away back."""
    with store.transaction() as session:
        sample = session.get(Sample, sample_id, with_for_update=True)
        if sample is None:
            raise Missing("There is no such sample.")
        sample.thrown = [*sample.thrown, *ids] if ids else []
        changed(session, f"type {sample.type_key}")


def id_of(one: Proposal | ProposedTable) -> str:
    """What tells a proposal from the others on its sample."""
    return f"{one.page}-{one.box.x0:.0f}-{one.box.y0:.0f}"


def _proposed(doc_type: DocumentType, sample: Sample, document: DocumentReading) -> list[Proposal | ProposedTable]:
    """What is proposed on the sample, but for what stands where a field or a table of the type has its place."""
    known = [*_labelled(sample, doc_type), *_tables(doc_type, document)]
    found: list[Proposal | ProposedTable] = []
    taken = [*doc_type.names, *(table.key for table in doc_type.tables)]
    for one in _all(document):
        if any(page == one.page and _meet(box, one.box) for page, box in known):
            continue
        free = _renamed(one, taken)
        found.append(free)
        taken.append(free.table.key if isinstance(free, ProposedTable) else free.rule.key)
    return found


def _renamed(one: Proposal | ProposedTable, taken: Collection[str]) -> Proposal | ProposedTable:
    """The proposal under a key that is free."""
    if isinstance(one, ProposedTable):
        key = key_for(one.table.name, taken)
        return replace(one, table=one.table.model_copy(update={"key": key}))
    return replace(one, rule=one.rule.model_copy(update={"key": key_for(one.rule.name, taken)}))


def _labelled(sample: Sample, doc_type: DocumentType) -> Iterator[tuple[int, Box]]:
    for key, kept in sample.truth.items():
        if key in doc_type.names and kept["box"]:
            yield kept["page"] or 0, Box(*kept["box"])


def _tables(doc_type: DocumentType, document: DocumentReading) -> Iterator[tuple[int, Box]]:
    for table in tables_on(doc_type, document):
        for row in table.rows:
            if row.page is not None and row.box is not None:
                yield row.page, row.box


def _meet(one: Box, other: Box) -> bool:
    return one.covers_centre_of(other) or other.covers_centre_of(one)


@lru_cache(maxsize=200)
def _all(document: DocumentReading) -> tuple[Proposal | ProposedTable, ...]:
    fields, tables = propose_all(document)
    return (*fields, *tables)


def _card(one: Proposal | ProposedTable, document: DocumentReading) -> ProposalCard:
    if isinstance(one, ProposedTable):
        columns = ", ".join(column.name for column in one.table.columns)
        return ProposalCard(id_of(one), one.table.name, "a table", columns, one.page, one.box)
    value = _value(one, document)
    shown = one.rule.kind.show(value) if value else one.raw
    return ProposalCard(id_of(one), one.rule.name, one.rule.kind.words, shown, one.page, one.box)


def _value(one: Proposal, document: DocumentReading) -> str:
    """What is kept of the value: as it is read, or as ink says it."""
    if one.value:
        return one.rule.kind.parse(one.raw, style_of(document.lines)) or one.value
    found = _by_ink(document, DocumentType(key="proposed", name="Proposed", fields=(one.rule,)).model_dump_json())
    return found or ""


@lru_cache(maxsize=2000)
def _by_ink(document: DocumentReading, doc_type: str) -> str | None:
    return extract(document, DocumentType.model_validate_json(doc_type)).values[0].value


def _sample(store: Store, sample_id: int) -> Sample:
    with store.transaction() as session:
        sample = session.get(Sample, sample_id)
        if sample is None:
            raise Missing("There is no such sample.")
        return sample
