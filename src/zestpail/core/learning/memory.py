"""All that a type learned, as its finders ask it: layouts, what stands around values anywhere, and questions."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property, lru_cache
from weakref import WeakKeyDictionary

from zestpail.core.document_type.learned import Learned, TaughtField
from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.learning.asked import hints_of
from zestpail.core.learning.layouts.memory import LayoutMemory
from zestpail.core.learning.sought import Sought
from zestpail.core.learning.type_model import (
    Asked,
    Weighed,
    by_ink_or_words,
    by_surroundings,
    told_in_text,
    weighed,
)

KNOWN = 0.6
"""How surely a layout must be known for the samples' other words to be left aside."""
AS_TAUGHT, AS_ASKED = "as on other samples", "by the question"


class TypeMemory:
    """What a type was taught; nothing where it learned nothing, which can answer questions all the same."""

    def __init__(self, learned: Learned) -> None:
        self.layouts = LayoutMemory(learned.layouts)
        self.fields = {field.key: field for field in learned.fields}
        self._weighed: WeakKeyDictionary[SearchContext, dict[str, Weighed]] = WeakKeyDictionary()

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """What stands where the value stood on samples of the layout; on other layouts what stands as it did."""
        found = list(self.layouts.candidates(context, target)) if context.style.day is None else []
        yield from found
        taught = self.fields.get(target.key)
        known = max((one.sure for one in self.layouts.recognised(context.document)), default=0.0)
        if taught and (known < KNOWN or not found):
            if told_in_text(target.kind):
                yield from by_surroundings(self._taught(context, target, taught), "learned", AS_TAUGHT)
            else:
                yield from by_ink_or_words(context, target.kind, sought_by_name(taught), "learned", AS_TAUGHT)

    def answers(self, context: SearchContext, target: FieldTarget, question: str) -> Iterator[Candidate]:
        """What stands beside words that mean what is asked, or that stood beside answers on samples."""
        taught = self.fields.get(target.key, TaughtField(key=target.key))
        sought = sought_by(taught, question)
        if told_in_text(target.kind):
            asked = {**self._asked, target.key: Asked(target.kind, sought, taught)}
            yield from by_surroundings(weighed(context, asked)[target.key], "question", AS_ASKED)
        else:
            yield from by_ink_or_words(context, target.kind, sought, "question", AS_ASKED)

    @cached_property
    def _asked(self) -> dict[str, Asked]:
        """The fields that were taught and whose values stand somewhere as text."""
        return {
            key: Asked(field.kind, sought_by_name(field), field)
            for key, field in self.fields.items()
            if field.kind and field.spots and told_in_text(field.kind)
        }

    def _taught(self, context: SearchContext, target: FieldTarget, taught: TaughtField) -> Weighed:
        """How likely each piece is the value, what the other fields claim left out."""
        if context not in self._weighed:
            self._weighed[context] = weighed(context, self._asked)
        found = self._weighed[context].get(target.key)
        if found is None or taught.kind != target.kind:  # its kind was changed since
            asked = Asked(target.kind, sought_by_name(taught), taught)
            return weighed(context, {**self._asked, target.key: asked})[target.key]
        return found


def sought_by_name(taught: TaughtField) -> Sought:
    """What was taught as what is sought, called as its field is."""
    return sought_by(taught, taught.name)


def sought_by(taught: TaughtField, name: str) -> Sought:
    """What was taught as what is sought, called or asked for so."""
    names = (name, *hints_of(name))
    return Sought(taught.labels, taught.leads, names, taught.sentences, taught.follows, name)


@lru_cache(maxsize=64)
def memory_of(learned: Learned | None) -> TypeMemory:
    """The memory of what was learned, made once."""
    return TypeMemory(learned or Learned())
