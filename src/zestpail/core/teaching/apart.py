"""Which samples teach and which test: apart, so that a figure says something of papers that were never seen."""

from __future__ import annotations

from collections.abc import Sequence

from zestpail.core.kinds.equality import same
from zestpail.core.learning.labelled import LabelledDocument
from zestpail.core.learning.layouts.recognise import KNOWN, Layouts
from zestpail.core.learning.layouts.remember import remember

FOR_TESTING = 3
"""Of so many samples of a layout one is kept for testing."""
ALIKE = 4
"""So many values that are all the same make two samples the same document."""


def groups_of(samples: Sequence[LabelledDocument]) -> list[list[int]]:
    """The samples by their layouts: the places in the sequence of those that are alike."""
    groups: list[list[int]] = []
    for at, sample in enumerate(samples):
        layouts = [remember(str(number), samples[several[0]].document, {}) for number, several in enumerate(groups)]
        nearest = Layouts(layouts).nearest(sample.document) if sample.document.pages else None
        if nearest and nearest[1] >= KNOWN:
            groups[int(nearest[0])].append(at)
        else:
            groups.append([at])
    return groups


def for_testing(samples: Sequence[LabelledDocument]) -> set[int]:
    """Which of the samples are best kept for testing: of every layout some, and of those that stand alone every third.

    There is always one left to teach with.
    """
    groups = groups_of(samples)
    alone = [several[0] for several in groups if len(several) == 1]
    chosen = {at for several in groups if len(several) > 1 for at in several[1::FOR_TESTING]}
    return chosen | set(alone[FOR_TESTING - 1 :: FOR_TESTING])


def same_document(one: LabelledDocument, other: LabelledDocument) -> bool:
    """Whether two samples are one document, scanned twice perhaps: the same file, or all values the same."""
    if one.digest and one.digest == other.digest:
        return True
    both = [key for key in one.labels.keys() & other.labels.keys() if one.labels[key].value]
    return len(both) >= ALIKE and all(same(one.labels[key].value, other.labels[key].value) for key in both)
