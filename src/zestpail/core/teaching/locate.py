"""Where a value stands on a document of which only the value is known."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.extraction.extract import likely_options, surroundings_in
from zestpail.core.finders import Candidate, SearchContext
from zestpail.core.finders.memory import SearchMemory
from zestpail.core.kinds.equality import same
from zestpail.core.landmarks.labels import folded, skeleton
from zestpail.core.learning.labelled import Label, LabelledDocument
from zestpail.core.learning.offers import in_head
from zestpail.core.learning.type_model import most_likely_said
from zestpail.core.reading.geometry import around
from zestpail.core.reading.lines import Line
from zestpail.core.reading.page import Word

MOST_ROWS = 12
"""Lines over which a value may go."""


def located(context: SearchContext, doc_type: DocumentType, sample: LabelledDocument) -> dict[str, Label]:
    """The labels of a sample, with a place for each value that is found on it; ``context`` is the type's search of it.

    Where a value stands several times, it is taken where the type's own finders would most likely take it, else where
    it stands first.
    """
    options: Mapping[str, Sequence[Candidate]] = {}
    if any(label.value is not None and label.box is None for label in sample.labels.values()):
        surroundings, searched = surroundings_in(context, doc_type, SearchMemory())
        options = likely_options(surroundings, searched)
    known = {field.key: field for field in doc_type.fields}
    return {
        key: _placed(context, known[key], label, options.get(key, ()))
        for key, label in sample.labels.items()
        if key in known
    }


def _placed(context: SearchContext, field: FieldRule, label: Label, options: Sequence[Candidate]) -> Label:
    if label.value is None or label.box is not None:
        return label
    by_ink = field.kind.told_by or field.kind.in_words
    if by_ink and not any(same(c.value, label.value) for c in options):
        options = most_likely_said(context, field.kind, field.name)
    found = [c for c in options if same(c.value, label.value) and (not c.made or by_ink)]
    if found:
        best = max(found, key=lambda candidate: candidate.score)
        return Label(label.value, best.page, best.box)
    if by_ink:
        return label
    body = [line for line in context.lines if not in_head(line)]
    return next(_spelt(context, field, label.value), None) or next(_worded(body, label.value), label)


def _spelt(context: SearchContext, field: FieldRule, value: str) -> Iterator[Label]:
    """Where something of the field's kind has that value; an amount at the foot first, where the totals are."""
    lines = [line for line in context.lines if context.style.day is None or not in_head(line)]
    for line in reversed(lines) if field.kind.money else lines:
        for span in context.spans(line, field.kind):
            if same(span.value, value):
                yield Label(value, line.page, span.box)


def _worded(lines: Sequence[Line], value: str) -> Iterator[Label]:
    """Where words, over several lines if need be, say the value; first as they are, then with slips of the reader."""
    for said in (folded, _with_slips):
        wanted = said(value)
        for at, line in enumerate(lines if wanted else ()):
            for first in range(len(line.words)):
                words = _saying(lines[at : at + MOST_ROWS], first, wanted, said)
                if words:
                    yield Label(value, line.page, around(word.box for word in words))


def _with_slips(text: str) -> str:
    return skeleton(folded(text))


def _saying(lines: Sequence[Line], first: int, wanted: str, said: Callable[[str], str]) -> list[Word]:
    """The words from the ``first`` of the first line on that say what is wanted; none if they say something else.

    What does not go on within its line goes on under where it began.
    """
    words: list[Word] = []
    text = ""
    for line in lines:
        row = line.words[first:] if not words else [w for w in line.words if w.box.x1 > words[0].box.x0]
        if words and (line.page != lines[0].page or (row and row[0].box.x0 > words[0].box.x0 + line.height)):
            return []
        for word in row:
            longer = text + said(word.text)
            if not wanted.startswith(longer):
                break
            text = longer
            words.append(word)
            if text == wanted:
                return words
        if not words:
            return []
    return []
