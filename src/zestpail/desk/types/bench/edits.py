"""What every edit of a draft has in common: where it is made, on what sample, and that it is tried before kept."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import product

from pydantic import ValidationError

from zestpail.core.document_type import DocumentType
from zestpail.core.evaluation.proof import Sample
from zestpail.core.finders import SearchContext, TooSlow
from zestpail.core.finders.context import FieldTarget
from zestpail.core.landmarks.match import ReferencePosition
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.desk.documents.journal import write_down
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.types import samples as kept_samples
from zestpail.desk.types.drafts import change, draft_of, subject_of
from zestpail.desk.types.samples import Label, kept_label, proof_samples, put_label
from zestpail.store import Store
from zestpail.store.queries.samples import pages_of_sample
from zestpail.store.states import PageState


@dataclass(frozen=True)
class At:
    """A draft as somebody sees it, and who that is."""

    key: str
    version: int
    person_id: int


def write(store: Store, at: At, doc_type: DocumentType, message: str) -> None:
    """Try the edit on all samples, then write it down. Raises NotDone for rules that cannot be or take too long."""
    try:
        DocumentType.model_validate(doc_type.model_dump(exclude={"learned"}))
    except ValidationError as error:
        message = error.errors()[0]["msg"].removeprefix("Value error, ")
        raise NotDone(f"Not possible: {message}. Nothing was changed.") from error
    with store.transaction() as session:
        samples = proof_samples(store, session, at.key)
    _try_expressions(doc_type, samples)
    change(store, at.key, at.version, doc_type, message, at.person_id)


def say(store: Store, at: At, message: str, labels: Iterable[tuple[int, str, Label]]) -> None:
    """Write down what is right on samples, as one step that can be taken back."""
    with store.transaction() as session:
        draft = draft_of(session, at.key)
        before = [
            {"sample": number, "key": key, "before": put_label(session, number, key, kept_label(right))}
            for number, key, right in labels
        ]
        as_it_was = {"body": draft.body, "learned": draft.learned, "labels": before}
        write_down(session, subject_of(at.key), message, as_it_was, at.person_id)


def _try_expressions(doc_type: DocumentType, samples: Iterable[Sample]) -> None:
    """Raises NotDone for an expression that takes too long on a sample, with the line on which it does."""
    tried = [(rule, finder) for rule in doc_type.fields for finder in rule.finders if finder.unbounded]
    try:
        for (rule, finder), sample in product(tried, samples):
            list(finder.candidates(SearchContext(sample.document, ()), FieldTarget(rule.key, rule.kind)))
    except TooSlow as problem:
        raise NotDone(f"{problem} Nothing was changed.") from problem


def document_at(store: Store, sample_id: int) -> DocumentReading:
    """The sample as it was read. Raises Missing."""
    with store.transaction() as session:
        pages = [page for page in pages_of_sample(session, sample_id) if page.state == PageState.READ]
    if not pages:
        raise Missing("There is no such sample, or it is not read yet.")
    return kept_samples.document_of(store.blobs, tuple(page.reading or "" for page in pages))


def reference_at(document: DocumentReading, page: int, box: Box) -> ReferencePosition:
    """That place on the page, with the page's size."""
    reading = document.pages[page]
    return ReferencePosition(page=page, width=reading.width, height=reading.height, box=box)
