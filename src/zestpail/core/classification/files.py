"""Files in, documents out: each file is a pile that is cut and classified."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path

from pydantic import BaseModel

from zestpail.core.classification.decide import Alternative
from zestpail.core.classification.folder import ReadFile, read_files
from zestpail.core.classification.model import Classifier
from zestpail.core.classification.reasons import Reason
from zestpail.core.classification.stack import classify_stack
from zestpail.core.classification.taught import Taught
from zestpail.core.reading.processes import shown_path


class ClassifiedRecord(BaseModel):
    """One document as ``classify --json`` prints it; pages count from 1."""

    file: str
    pages: list[int] = []
    type: str = "unknown"
    confidence: float = 0.0
    state: str = "unknown"
    alternatives: list[Alternative] = []
    reasons: list[Reason] = []
    begins: str = ""
    """Why it begins where it does."""
    problems: list[str] = []

    def as_text(self) -> str:
        """The document for a person's eyes."""
        if self.problems:
            return f"{self.file}: {' '.join(self.problems)}"
        pages = f"pages {self.pages[0]}–{self.pages[-1]}" if len(self.pages) > 1 else f"page {self.pages[0]}"
        lines = [f"{self.file}, {pages}: {self.type}, {self.confidence:.0%}, {self.state} ({self.begins})"]
        lines += [f"  {reason.speaks}: {reason.message}" for reason in self.reasons]
        if self.alternatives:
            others = ", ".join(f"{other.type} {other.confidence:.0%}" for other in self.alternatives)
            lines.append(f"  or else: {others}")
        return "\n".join(lines)


def classify_files(paths: Sequence[Path], classifier: Classifier) -> Iterator[ClassifiedRecord]:
    """The documents of every file, in order. A file that cannot be read yields its problem."""
    taught = Taught(classifier)
    for read in read_files(paths):
        yield from records_of(read, taught)


def records_of(read: ReadFile, taught: Taught) -> list[ClassifiedRecord]:
    """The documents of one file that was read."""
    name = shown_path(read.path)
    if read.problem:
        return [ClassifiedRecord(file=name, problems=[read.problem])]
    return [
        ClassifiedRecord(
            file=name, pages=[at + 1 for at in found.pages], type=found.decision.type,
            confidence=found.decision.confidence, state=found.decision.state,
            alternatives=list(found.decision.alternatives), reasons=list(found.decision.reasons), begins=found.why,
        )
        for found in classify_stack(taught, read.pages, ties=read.ties)
    ]  # fmt: skip
