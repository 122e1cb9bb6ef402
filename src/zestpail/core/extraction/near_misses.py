"""What was searched for and not found, and how near it came."""

from __future__ import annotations

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import Learned, Question, SearchContext
from zestpail.core.landmarks.labels import ALIKE, match_labels

NEAREST = 0.45
"""The least similarity of a text that is worth telling."""


def why_not_found(rule: FieldRule, context: SearchContext) -> str:
    """A sentence for a field that was not found: its label is not there, or nothing fitting stands beside it."""
    asked = [finder for finder in rule.finders if isinstance(finder, Question)]
    if asked and all(isinstance(finder, Question | Learned) for finder in rule.finders):
        return f"Nothing on this sample that is {rule.kind.words} stands beside words that mean what is asked."
    labels = [label for finder in rule.finders for label in finder.wordings(rule.key)]
    if not any(finder.by_label for finder in rule.finders) or not labels:
        return f"Nothing that is {rule.kind.words} was found by its rule."
    near = max(match_labels(context.lines, labels, NEAREST), key=lambda match: match.similarity, default=None)
    if near is None:
        return "No text on this sample is like one of its labels."
    text = near.line.text[near.start : near.end]
    if near.similarity >= ALIKE:
        return f"“{text}” was found, but nothing beside it that is {rule.kind.words}."
    return f"Its labels were not found; the nearest text is “{text}”, {near.similarity:.2f} like “{near.label.text}”."
