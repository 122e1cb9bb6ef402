"""A type learns from its samples: each learning is a numbered version that can be compared, used again, removed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlmodel import Session, col, func, select

from zestpail.core.evaluation.proof import prove
from zestpail.core.learning.labelled import LabelledDocument
from zestpail.core.teaching.learn import learn
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.documents.whole_types import keep_learned, learned_of
from zestpail.desk.types.bench.edits import At, write
from zestpail.desk.types.bench.view import counted_right
from zestpail.desk.types.drafts import draft_of, draft_type
from zestpail.desk.types.roles import LabelledSample, labelled_samples
from zestpail.desk.types.samples import proof_samples
from zestpail.store import Store
from zestpail.store.learning_tables import LearnedBody, TypeLearning
from zestpail.store.queries.samples import samples_of
from zestpail.store.states import SampleRole
from zestpail.store.tables import Person, TypeDraft, TypeRevision
from zestpail.store.trail_tables import JournalEntry


@dataclass(frozen=True)
class LearningRow:
    """A learning in the list."""

    number: int
    learned_at: datetime
    person: str
    samples: int
    layouts: int
    faults: list[str]
    in_draft: bool


@dataclass(frozen=True)
class Figures:
    """How many values a learning finds right, and how many there are: on samples for testing, and on all."""

    tested: tuple[int, int]
    labelled: tuple[int, int]


def learn_from_samples(store: Store, at: At) -> str:
    """Learn from the labelled samples for training, and go by it in the draft; says what came of it. Raises NotDone."""
    with store.transaction() as session:
        doc_type = draft_type(store, at.key)
        several = labelled_samples(store, session, at.key)
        last = session.exec(select(func.max(TypeLearning.number)).where(TypeLearning.type_key == at.key)).one()
    samples = _for_training(several)
    lesson = learn(doc_type, samples, (last or 0) + 1)
    learned = lesson.doc_type.learned
    assert learned
    write(store, at, lesson.doc_type, f"learned from {_samples(len(samples))}")
    with store.transaction() as session:
        session.add(
            TypeLearning(
                type_key=at.key, number=learned.number, digest=keep_learned(session, learned),
                samples=[sample.name for sample in samples], layouts=lesson.layouts, faults=list(lesson.faults),
                person_id=at.person_id,
            )
        )  # fmt: skip
        note(session, "type_learned", person_id=at.person_id, after={"type": at.key, "learning": learned.number})
    layouts = f"{lesson.layouts} layout" + "s" * (lesson.layouts != 1)
    told = f" {lesson.faults[0]}" if lesson.faults else ""
    more = f" And {len(lesson.faults) - 1} more, under Learnings." if len(lesson.faults) > 1 else ""
    return f"Learning {learned.number}: {layouts} known from {_samples(len(samples))}.{told}{more}"


def _for_training(several: Sequence[LabelledSample]) -> list[LabelledDocument]:
    """The samples that can be learned from. Raises NotDone where there are none."""
    if not several:
        raise NotDone("There is nothing to learn from yet. Click what is right on a sample, or confirm what was found.")
    training = [one.labelled for one in several if one.row.role == SampleRole.TRAINING]
    if not training:
        raise NotDone("All labelled samples are kept for testing. Make at least one of them a sample for training.")
    return training


def _samples(count: int) -> str:
    return f"{count} sample" + "s" * (count != 1)


def learnings(store: Store, key: str) -> list[LearningRow]:
    """All learnings of a type, the newest first. Raises Missing if there is no such type."""
    with store.transaction() as session:
        draft = draft_of(session, key)
        digest = draft.learned
        found = session.exec(
            select(TypeLearning, Person.name)
            .join(Person, col(TypeLearning.person_id) == col(Person.id), isouter=True)
            .where(TypeLearning.type_key == key)
            .order_by(col(TypeLearning.number).desc())
        ).all()
    return [
        LearningRow(
            one.number, one.learned_at, person or "", len(one.samples), one.layouts, one.faults, one.digest == digest
        )
        for one, person in found
    ]


def figures_of(store: Store, key: str, number: int) -> Figures:
    """What the draft would find right by that learning. Raises Missing."""
    with store.transaction() as session:
        learned = learned_of(session, _learning(session, key, number).digest)
        samples = proof_samples(store, session, key)
        testing = {row.id for row in samples_of(session, key) if row.role == SampleRole.TEST}
    proof = prove(draft_type(store, key).model_copy(update={"learned": learned}), samples)
    tested = {sample: fields for sample, fields in proof.items() if sample in testing}
    return Figures(counted_right(tested), counted_right(proof))


def go_by(store: Store, key: str, number: int | None, person_id: int) -> None:
    """Make the draft go by that learning, or by none; the step can be taken back. Raises Missing."""
    with store.transaction() as session:
        version = draft_of(session, key).version
        learned = learned_of(session, _learning(session, key, number).digest) if number else None
    doc_type = draft_type(store, key).model_copy(update={"learned": learned})
    told = f"goes by learning {number}" if number else "goes by no learning"
    write(store, At(key, version, person_id), doc_type, told)


def remove_learning(store: Store, key: str, number: int, person_id: int) -> None:
    """Take a learning away. Raises Missing, and NotDone where the draft goes by it."""
    with store.transaction() as session:
        one = _learning(session, key, number)
        if draft_of(session, key).learned == one.digest:
            raise NotDone(f"The draft goes by learning {number}. Use another one first.")
        session.delete(one)
        session.flush()
        _forget(session, one.digest)
        note(session, "learning_removed", person_id=person_id, before={"type": key, "learning": number})


def _learning(session: Session, key: str, number: int) -> TypeLearning:
    wanted = select(TypeLearning).where(TypeLearning.type_key == key, TypeLearning.number == number)
    found = session.exec(wanted).first()
    if found is None:
        raise Missing("There is no such learning.")
    return found


def _forget(session: Session, digest: str) -> None:
    """Remove what was learned, where nothing goes by it any more, nor would if a step were taken back."""
    undoable = col(JournalEntry.before)["learned"].astext == digest
    for wanted in (
        select(TypeLearning.id).where(TypeLearning.digest == digest),
        select(TypeDraft.id).where(TypeDraft.learned == digest),
        select(TypeRevision.id).where(TypeRevision.learned == digest),
        select(JournalEntry.id).where(undoable),
    ):
        if session.exec(wanted).first() is not None:
            return
    body = session.get(LearnedBody, digest)
    if body:
        session.delete(body)
