"""Samples for training and samples for testing: shown side by side, kept apart by hand or by itself."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import product

from sqlmodel import Session

from zestpail.core.learning.labelled import Label, LabelledDocument
from zestpail.core.reading.geometry import Box
from zestpail.core.teaching.apart import for_testing, same_document
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.types.drafts import draft_of, type_of_draft
from zestpail.desk.types.samples import proof_samples
from zestpail.store import Store
from zestpail.store.notices import changed
from zestpail.store.queries.samples import samples_of
from zestpail.store.states import SampleRole, SampleState
from zestpail.store.tables import Sample

FEW = 5
"""Samples for testing of which there should be at least so many."""


@dataclass(frozen=True)
class SampleOfRole:
    """A sample in the list of its role."""

    id: int
    name: str
    labelled: int


@dataclass(frozen=True)
class RolesView:
    """The samples by what they are for, and what is to be told of that."""

    training: list[SampleOfRole]
    testing: list[SampleOfRole]
    warnings: list[str]


@dataclass(frozen=True)
class LabelledSample:
    """A sample's row with what the engine learns from it."""

    row: Sample
    labelled: LabelledDocument


def labelled_samples(store: Store, session: Session, key: str) -> list[LabelledSample]:
    """The samples that are read and of which at least one field is labelled. Raises Missing."""
    names = type_of_draft(draft_of(session, key)).names
    documents = {sample.id: sample.document for sample in proof_samples(store, session, key)}
    found = []
    for row in samples_of(session, key):
        labels = {
            field: Label(kept["value"], kept["page"], Box(*kept["box"]) if kept["box"] else None)
            for field, kept in row.truth.items()
            if field in names
        }
        if labels and row.state == SampleState.READY:
            found.append(LabelledSample(row, LabelledDocument(row.name, documents[row.id or 0], labels, row.blob)))
    return found


def roles_view(store: Store, key: str) -> RolesView:
    """The samples by their roles, with warnings about them. Raises Missing."""
    with store.transaction() as session:
        several = labelled_samples(store, session, key)
        rows = [row for row in samples_of(session, key) if row.state == SampleState.READY]
        names = type_of_draft(draft_of(session, key)).names
        shown = {
            role: [
                SampleOfRole(row.id or 0, row.name, len(row.truth.keys() & names.keys()))
                for row in rows
                if row.role == role
            ]
            for role in SampleRole
        }
    training, testing = (
        [one.labelled for one in several if one.row.role == role] for role in (SampleRole.TRAINING, SampleRole.TEST)
    )
    warnings = [
        f"{one.name}, for training, and {other.name}, for testing, are the same document: figures flatter."
        for one, other in product(training, testing)
        if same_document(one, other)
    ]
    if len(training) == 1:
        warnings.append(f"{training[0].name} alone teaches: papers that look otherwise are hardly known.")
    if several and not training:
        warnings.append("No labelled sample is for training, so there is nothing to learn from.")
    if several and not testing:
        warnings.append("No labelled sample is kept for testing: figures on samples that taught say little.")
    elif len(testing) < FEW and several:
        warnings.append(f"Only {len(testing)} labelled for testing: with fewer than {FEW} figures say little.")
    return RolesView(shown[SampleRole.TRAINING], shown[SampleRole.TEST], warnings)


def keep_apart(store: Store, key: str, person_id: int) -> int:
    """Choose which labelled samples are kept for testing, some of every layout; returns how many. Raises NotDone."""
    with store.transaction() as session:
        several = labelled_samples(store, session, key)
        chosen = for_testing([one.labelled for one in several])
        if not chosen:
            raise NotDone(
                "There are too few labelled samples to keep some apart: three, or two of one layout, are needed."
            )
        for at, one in enumerate(several):
            one.row.role = SampleRole.TEST if at in chosen else SampleRole.TRAINING
        note(session, "samples_kept_apart", person_id=person_id, after={"type": key, "testing": len(chosen)})
        changed(session, f"type {key}")
        return len(chosen)
