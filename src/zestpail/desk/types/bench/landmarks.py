"""Landmarks at the bench: pointed at, answered for on samples until the description fits, dialled by hand."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from zestpail.core.document_type import DocumentType
from zestpail.core.landmarks import AnyLandmark, PrintedWords
from zestpail.core.landmarks.match import LandmarkMatch
from zestpail.core.reading.geometry import Box
from zestpail.core.teaching.field_proposal import propose_landmark
from zestpail.core.teaching.landmark_fitting import (
    Answer,
    agrees,
    chosen,
    fitted,
)
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.desk.types import samples as kept_samples
from zestpail.desk.types.bench.edits import (
    At,
    document_at,
    say,
    write,
)
from zestpail.desk.types.drafts import draft_type
from zestpail.desk.types.samples import Label
from zestpail.store import Store
from zestpail.store.queries.samples import samples_of
from zestpail.store.states import SampleState

MOST_TEXTS = 60
LEAST_SHOWN = 0.3
"""Places of a lower score are not worth showing at the dial."""


@dataclass(frozen=True)
class Place:
    """A place on a sample that may be the landmark, for the dial: what stands there and the figure that decides."""

    text: str
    figure: float
    sample: str


@dataclass(frozen=True)
class Dial:
    """A landmark's dial with what falls on either side of it, best first."""

    landmark: AnyLandmark
    wordings: tuple[str, ...]
    places: list[Place]
    answered: int
    agreed: int


def add_landmark(store: Store, at: At, sample_id: int, page: int, box: Box) -> None:
    """A landmark for what was pointed at. Raises NotDone where nothing stands there."""
    doc_type, document = draft_type(store, at.key), document_at(store, sample_id)
    if not 0 <= page < len(document.pages):
        raise Missing("The sample has no such page.")
    with store.transaction() as session:
        answered = {key for sample in samples_of(session, at.key) for key in sample.truth}
    taken = {landmark.key for landmark in doc_type.landmarks} | answered
    key = next(name for number in range(1, 1000) if (name := f"L{number}") not in taken)
    landmark = propose_landmark(document, page, box, key)
    if landmark is None:
        raise NotDone("There is nothing to measure from here. Point at something printed, or at a blank strip.")
    write(
        store,
        at,
        doc_type.model_copy(update={"landmarks": (*doc_type.landmarks, landmark)}),
        f"marked {landmark.sentence}",
    )
    kept_samples.label(store, sample_id, key, Label("there", landmark.reference.page, landmark.reference.box))


def answer_here(store: Store, at: At, key: str, sample_id: int, page: int, box: Box) -> str:
    """No, that one: what was pointed at is the landmark on this sample. Says what became of the description."""
    pointed = propose_landmark(document_at(store, sample_id), page, box, key)
    if pointed is None or pointed.landmark != _landmark(draft_type(store, at.key), key).landmark:
        raise NotDone(f"There is no such thing as {key} here: {_landmark(draft_type(store, at.key), key).sentence}.")
    return _answer(store, at, key, sample_id, Label("there", page, pointed.reference.box))


def answer(store: Store, at: At, key: str, sample_id: int, reply: str) -> str:
    """Yes, this; or it is not on this sample. Says what became of the description. Raises NotDone."""
    seen = chosen(_landmark(draft_type(store, at.key), key), document_at(store, sample_id))
    if reply == "here" and seen:
        return _answer(store, at, key, sample_id, Label("there", seen.page, seen.box))
    if reply == "absent":
        return _answer(store, at, key, sample_id, Label(None))
    raise NotDone(f"{key} is not found on this sample. Click where it stands, or say that it is not there.")


def set_dial(store: Store, at: At, key: str, alike: float, wordings: Iterable[str]) -> None:
    """Set how alike a place must be and, of printed words, the wordings. Raises NotDone for what cannot be."""
    doc_type = draft_type(store, at.key)
    landmark = _landmark(doc_type, key)
    change: dict[str, object] = {"alike": alike}
    if isinstance(landmark, PrintedWords):
        words = tuple(dict.fromkeys(text for wording in wordings if (text := " ".join(wording.split()))))
        if not words:
            raise NotDone("Printed words need at least one wording.")
        change["wordings"] = words
    write(store, at, _with(doc_type, landmark.model_copy(update=change)), f"set how alike {key} must be")


def remove_landmark(store: Store, at: At, key: str) -> None:
    """Take a landmark out. Raises NotDone while rules measure from it."""
    doc_type = draft_type(store, at.key)
    users = [field.name for field in doc_type.fields if key in field.tied_to]
    if users:
        raise NotDone(f"{key} is still used by {', '.join(users)}.")
    left = tuple(landmark for landmark in doc_type.landmarks if landmark.key != key)
    write(store, at, doc_type.model_copy(update={"landmarks": left}), f"removed the landmark {key}")


def dial(store: Store, type_key: str, key: str) -> Dial:
    """What falls on either side of the landmark's dial, over all samples. Raises Missing."""
    landmark = _landmark(draft_type(store, type_key), key)
    loose = landmark.model_copy(update={"alike": 0.5 if isinstance(landmark, PrintedWords) else 0.1})
    answers = _answers(store, type_key, key)
    with store.transaction() as session:
        ready = [(row.id or 0, row.name) for row in samples_of(session, type_key) if row.state == SampleState.READY]
    seen = [(sight, name) for number, name in ready for sight in loose.landmark_matches(document_at(store, number))]
    places = [Place(_message(sight), figure(landmark, sight), name) for sight, name in seen]
    shown = sorted((place for place in places if place.figure >= LEAST_SHOWN), key=lambda place: -place.figure)
    return Dial(
        landmark=landmark,
        wordings=landmark.wordings if isinstance(landmark, PrintedWords) else (),
        places=shown[:MOST_TEXTS],
        answered=len(answers),
        agreed=agrees(landmark, answers),
    )


def figure(landmark: AnyLandmark, sight: LandmarkMatch) -> float:
    """What the dial is held against, in [0, 1]."""
    return sight.parts["alike"] if isinstance(landmark, PrintedWords) else round(sight.score, 3)


def _answer(store: Store, at: At, key: str, sample_id: int, message: Label) -> str:
    say(store, at, f"answered for {key}", [(sample_id, key, message)])
    doc_type, answers = draft_type(store, at.key), _answers(store, at.key, key)
    before = _landmark(doc_type, key)
    after = fitted(before, answers)
    agreed = f"{agrees(after, answers)} of {len(answers)} answers come true"
    if after == before:
        return f"{key} stays as it is described: {agreed}."
    write(store, at, _with(doc_type, after), f"fitted {key} to {len(answers)} answers")
    return f"{key} is described anew, as {after.sentence}: {agreed}."


def _answers(store: Store, type_key: str, key: str) -> list[Answer]:
    with store.transaction() as session:
        rows = [row for row in samples_of(session, type_key) if row.state == SampleState.READY and key in row.truth]
        message = [(row.id or 0, row.truth[key]) for row in rows]
    answers = [
        Answer(document_at(store, number), int(saved["page"] or 0), Box(*saved["box"]) if saved["box"] else None)
        for number, saved in message
    ]
    return [answer for answer in answers if answer.page < len(answer.document.pages)]


def _message(sight: LandmarkMatch) -> str:
    return sight.text or ", ".join(f"{name} {score:.2f}" for name, score in sight.parts.items())


def _landmark(doc_type: DocumentType, key: str) -> AnyLandmark:
    found = next((landmark for landmark in doc_type.landmarks if landmark.key == key), None)
    if found is None:
        raise Missing("There is no such landmark; it may have been taken out.")
    return found


def _with(doc_type: DocumentType, landmark: AnyLandmark) -> DocumentType:
    landmarks = tuple(landmark if one.key == landmark.key else one for one in doc_type.landmarks)
    return doc_type.model_copy(update={"landmarks": landmarks})
