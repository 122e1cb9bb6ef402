"""The second reader looks at what was chosen; where it reads something else, that becomes a rival."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from zestpail.core.choosing import Picks
from zestpail.core.document_type import DocumentType
from zestpail.core.finders import Candidate, Ground
from zestpail.core.kinds.kind import Kind
from zestpail.core.reading.second_reader import SecondLook, agree

FIRST_DOUBTED = 0.7
"""What is left of a candidate that the second reader reads otherwise."""
SECOND_BELIEVED = 0.85
"""What the second reader's own reading scores against the first one's."""
_MADE = ("days after", "sum of several")

Options = Mapping[str, Sequence[Candidate]]


def looked_at(
    ground: Ground, kind: DocumentType, picks: Picks, options: Options, look: SecondLook
) -> dict[str, tuple[Candidate, ...]]:
    """The options anew, the chosen candidates confirmed or doubted by the second reader."""
    anew = {key: tuple(candidates) for key, candidates in options.items()}
    for field in kind.fields:
        pick = picks[field.key]
        if pick is None or pick.finder in _MADE or ground.document.pages[pick.page].source != "ocr":
            continue
        text = look(pick.page, pick.box)
        if text:
            anew[field.key] = _confronted(field.kind, ground, pick, anew[field.key], text)
    return anew


def _confronted(
    kind: Kind, ground: Ground, pick: Candidate, candidates: tuple[Candidate, ...], text: str
) -> tuple[Candidate, ...]:
    others = tuple(c for c in candidates if c is not pick)
    if agree(pick.raw, text):
        return (pick.model_copy(update={"agreed": True}), *others)
    value = kind.parse(text, ground.style)
    if value == pick.value:
        return (pick.model_copy(update={"agreed": True}), *others)
    if not _plausible(pick, text):
        return candidates
    doubted = pick.model_copy(update={"agreed": False, "parts": {**pick.parts, "second reader": FIRST_DOUBTED}})
    if value is None:
        return (doubted, *others)
    rival = pick.model_copy(
        update={
            "value": value,
            "raw": text,
            "agreed": False,
            "parts": {**pick.parts, "second reader": SECOND_BELIEVED},
            "reason": f"{pick.reason}, as the second reader has it",
        }
    )
    return (rival, doubted, *others)


def _plausible(pick: Candidate, text: str) -> bool:
    """Whether the text is of about the same length: a clip that caught too much or too little proves nothing."""
    return abs(len(text.replace(" ", "")) - len(pick.raw.replace(" ", ""))) <= 2
