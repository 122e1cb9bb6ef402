"""How right a classifier is: confusion, precision and recall by type, what is held back, and cuts."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from zestpail.core.classification.files import ClassifiedRecord, records_of
from zestpail.core.classification.folder import key_of, read_files, sample_files
from zestpail.core.classification.model import UNKNOWN, Classifier
from zestpail.core.classification.taught import Taught
from zestpail.core.evaluation.measure import wilson


@dataclass
class ClassMeasure:
    """What became of test samples, each of which is one document of a known type."""

    confusion: Counter[tuple[str, str]] = field(default_factory=Counter)
    """How many of a type (first) were taken for which (second)."""
    states: Counter[str] = field(default_factory=Counter)
    sure_right: int = 0
    cuts_right: int = 0
    cuts_missed: int = 0
    cuts_false: int = 0
    misses: list[str] = field(default_factory=list)
    unread: list[str] = field(default_factory=list)

    def add(self, name: str, wanted: str, type_: str, state: str) -> None:
        """Count one document."""
        self.confusion[wanted, type_] += 1
        self.states[state] += 1
        self.sure_right += state == "sure" and wanted == type_
        if wanted != type_:
            self.misses.append(f"{name}: {type_} instead of {wanted}")

    def add_cuts(self, wanted: Iterable[int], found: Iterable[int]) -> None:
        """Count the beginnings of documents in a pile, the first page's not among them."""
        true, told = set(wanted), set(found)
        self.cuts_right += len(true & told)
        self.cuts_missed += len(true - told)
        self.cuts_false += len(told - true)

    @property
    def documents(self) -> int:
        return sum(self.confusion.values())

    @property
    def right(self) -> int:
        return sum(count for (wanted, type_), count in self.confusion.items() if wanted == type_)

    @property
    def types(self) -> list[str]:
        """All types that are, or were taken for, in the order of their keys; unknown last."""
        met = {key for pair in self.confusion for key in pair}
        return [*sorted(met - {UNKNOWN}), *([UNKNOWN] if UNKNOWN in met else [])]

    @property
    def cuts_f1(self) -> float:
        """Of the cuts, in [0, 1]; 1 where there was nothing to cut and nothing was."""
        both = 2 * self.cuts_right + self.cuts_missed + self.cuts_false
        return 2 * self.cuts_right / both if both else 1.0


def evaluate_classifier(folder: Path, classifier: Classifier) -> ClassMeasure:
    """Classify the files of a folder per type; what is in a folder of no type of the classifier should be unknown.

    A file is one document: what is cut apart in it is a false cut, and its first part is what it was taken for.
    Raises Unreadable where there are no files.
    """
    measure, taught = ClassMeasure(), Taught(classifier)
    files = [(name, path) for name, paths in sample_files(folder).items() for path in paths]
    known = {one.key for one in classifier.types}
    for (name, path), read in zip(files, read_files([path for _, path in files]), strict=True):
        records = records_of(read, taught)
        if read.problem:
            measure.unread.append(f"{name}/{path.name}: {read.problem}")
            continue
        wanted = key_of(name) if name != UNKNOWN and key_of(name) in known else UNKNOWN
        first = records[0] if records else ClassifiedRecord(file=str(path))
        measure.add(f"{name}/{path.name}", wanted, first.type, first.state)
        measure.add_cuts((), (record.pages[0] for record in records[1:]))
    return measure


def class_report(measure: ClassMeasure) -> str:
    """The measure as a text for the command line."""
    return "\n".join([*_matrix(measure), "", *_by_type(measure), "", *_together(measure), *_misses(measure)])


def _matrix(measure: ClassMeasure) -> list[str]:
    types = measure.types
    wide = max([len(key) for key in types] + [8])
    head = " " * (wide + 2) + "".join(f"{key[:11]:>12}" for key in types)
    lines = ["rows: what it is; columns: what it was taken for", head]
    return lines + [
        f"{wanted:<{wide}}  " + "".join(f"{measure.confusion[wanted, type_] or '·':>12}" for type_ in types)
        for wanted in types
        if any(measure.confusion[wanted, type_] for type_ in types)
    ]


def _by_type(measure: ClassMeasure) -> list[str]:
    return [
        f"{key}: precision {_share(right, told)}, recall {_share(right, there)}"
        for key in measure.types
        if (there := sum(measure.confusion[key, other] for other in measure.types)) is not None
        and (told := sum(measure.confusion[other, key] for other in measure.types)) is not None
        and (right := measure.confusion[key, key]) is not None
        and (there or told)
    ]


def _together(measure: ClassMeasure) -> list[str]:
    held = measure.states["check"] + measure.states["unknown"]
    lines = [
        f"{_share(measure.right, measure.documents)} documents right",
        f"{_share(held, measure.documents)} held back for a person",
        f"{_share(measure.sure_right, measure.states['sure'])} of those that are sure are right",
    ]
    if measure.cuts_right or measure.cuts_missed or measure.cuts_false:
        lines.append(f"cuts: {measure.cuts_right} right, {measure.cuts_missed} missed, {measure.cuts_false} false")
    return lines


def _misses(measure: ClassMeasure) -> Sequence[str]:
    return [*(f"  {miss}" for miss in measure.misses), *(f"  not read: {miss}" for miss in measure.unread)]


def _share(part: int, whole: int) -> str:
    """A count of a count with its interval."""
    low, high = wilson(part, whole)
    return f"{part} of {whole} ({low:.0%}–{high:.0%})" if whole else "none"
