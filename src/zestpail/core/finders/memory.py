"""What was found in a document, kept by what was asked, so that what an edit did not touch is not looked for anew."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar, cast

Found = TypeVar("Found")


class SearchMemory:
    """Answers about one document by the whole question: rules that say the same find the same.

    Several threads may ask at once: an answer is only ever added, and two that work out the same one agree.
    """

    def __init__(self) -> None:
        self._answers: dict[str, object] = {}

    def recall(self, question: str, work_out: Callable[[], Found]) -> Found:
        """The answer to the question, worked out if nobody asked it before."""
        if question not in self._answers:
            self._answers.setdefault(question, work_out())
        return cast(Found, self._answers[question])
