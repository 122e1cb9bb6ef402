"""All that a type learned, as its finders ask it: layouts, what stands around values anywhere, and questions."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache

from zestpail.core.document_type.learned import Learned, TaughtField
from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.learning.asked import hints_of
from zestpail.core.learning.layouts.memory import LayoutMemory
from zestpail.core.learning.sought import Sought
from zestpail.core.learning.type_model import by_surroundings

KNOWN = 0.6
"""How surely a layout must be known for the samples' other words to be left aside."""


class TypeMemory:
    """What a type was taught; nothing where it learned nothing, which can answer questions all the same."""

    def __init__(self, learned: Learned) -> None:
        self.layouts = LayoutMemory(learned.layouts)
        self.fields = {field.key: field for field in learned.fields}

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """What stands where the value stood on samples of the layout; on other layouts what stands as it did."""
        found = list(self.layouts.candidates(context, target)) if context.style.day is None else []
        yield from found
        taught = self.fields.get(target.key)
        known = max((one.sure for one in self.layouts.recognised(context.document)), default=0.0)
        if taught and (known < KNOWN or not found):
            names = (taught.name, *hints_of(taught.name))
            sought = sought_of(taught, names, taught.name)
            yield from by_surroundings(context, target, sought, "learned", "as on other samples", taught)

    def answers(self, context: SearchContext, target: FieldTarget, question: str) -> Iterator[Candidate]:
        """What stands beside words that mean what is asked, or that stood beside answers on samples."""
        taught = self.fields.get(target.key, TaughtField(key=target.key))
        names = (question, *hints_of(question))
        sought = sought_of(taught, names, question)
        yield from by_surroundings(context, target, sought, "question", "by the question", taught)


def sought_of(taught: TaughtField, names: tuple[str, ...], about: str) -> Sought:
    """What was taught as what is sought, called so."""
    return Sought(taught.labels, taught.leads, names, taught.sentences, taught.follows, about)


@lru_cache(maxsize=64)
def memory_of(learned: Learned | None) -> TypeMemory:
    """The memory of what was learned, made once."""
    return TypeMemory(learned or Learned())
