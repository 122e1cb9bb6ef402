"""A classifier that was taught: the scores of every type for a document, and what speaks for how sure they are."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from zestpail.core.classification.bag import BLOCKS, Bag, Block, bag_of_page, joined
from zestpail.core.classification.cues import NOTHING_TOLD, Told
from zestpail.core.classification.description import fits
from zestpail.core.classification.model import Classifier
from zestpail.core.classification.page_sketch import PageSketch
from zestpail.core.classification.ridge import Fit, fitted
from zestpail.core.classification.space import Look, Placed, Space, look_of

CUE = {"some": 0.35, "much": 0.8}
"""What a cue adds to a type's score, which is about 1 for the type of a sample and 0 for others."""
DESCRIBED = 0.2
"""What a description that fits adds to a type that has samples; one without samples has nothing else."""
MISSED = 0.5
"""What a type whose cues are all missing loses, as a share of what the heaviest of them would add."""

Scores = NDArray[np.float32]
Shared = dict[Block, tuple[frozenset[str], frozenset[str]]]
"""By block the tokens that most samples of a type have, and those that any has."""


@dataclass(frozen=True)
class Row:
    """A sample as it is taught with."""

    type: int
    bag: Bag


@dataclass(frozen=True)
class Usual:
    """How the samples of a type lie among each other."""

    mean: float
    """How alike two of them are, cosine."""
    near: float
    """How alike one and the nearest other one are."""
    score: float
    """The score of one for the type, had it not been among them."""


class Taught:
    """The types in their order, fitted to their samples. Types without samples have the scores of their cues alone."""

    def __init__(self, classifier: Classifier, look: Look = look_of) -> None:
        self.classifier, self.look = classifier, look
        self.keys = tuple(one.key for one in classifier.types)
        self.rows = _rows(classifier)
        self.with_samples = sorted({row.type for row in self.rows})

    @cached_property
    def space(self) -> Space:
        return Space([row.bag for row in self.rows], self.look)

    @cached_property
    def placed(self) -> list[Placed]:
        return [self.space.place(row.bag) for row in self.rows]

    @cached_property
    def table(self) -> NDArray[np.float32]:
        """The rows as columns of the space."""
        return np.array([placed.dense(self.space.width) for placed in self.placed], np.float32)

    @cached_property
    def looks(self) -> NDArray[np.float32]:
        """By row which general kinds of paper it looks like."""
        return np.array([placed.look for placed in self.placed], np.float32)

    @cached_property
    def fit(self) -> Fit:
        place = {number: at for at, number in enumerate(self.with_samples)}
        return fitted(self.table, [place[row.type] for row in self.rows], len(place))

    @cached_property
    def lengths(self) -> dict[str, NDArray[np.float32]]:
        """By block, and of all together, how long each row is."""
        space = self.space
        parts = {"all": (0, space.width), "form": (space.form_at, space.look_at)}
        parts |= {block: (space.start[block], space.start[block] + len(space.column[block])) for block in BLOCKS}
        return {name: np.maximum(np.linalg.norm(self.table[:, start:end], axis=1), 1e-6).astype(np.float32)
                for name, (start, end) in parts.items()}  # fmt: skip

    @cached_property
    def shared(self) -> dict[int, Shared]:
        """By type what its samples have in common."""
        return {kind: shared_by([row.bag for row in self.rows if row.type == kind]) for kind in self.with_samples}

    @cached_property
    def usual(self) -> dict[int, Usual]:
        """By type how its samples lie among each other; a single sample is taken to be as alike as all are."""
        unit = self.table / self.lengths["all"][:, None]
        alike = unit @ unit.T
        np.fill_diagonal(alike, np.nan)
        kinds = np.array([row.type for row in self.rows])
        everything = float(np.nanmean(alike)) if len(alike) > 1 else 0.0
        found = {}
        for place, kind in enumerate(self.with_samples):
            of = np.flatnonzero(kinds == kind)
            among = alike[np.ix_(of, of)]
            several = len(of) > 1
            found[kind] = Usual(
                mean=float(np.nanmean(among)) if several else everything,
                near=float(np.nanmax(among, axis=1).mean()) if several else everything,
                score=float(self.fit.without[of, place].mean()) if several else 0.5,
            )
        return found

    @cached_property
    def roles(self) -> dict[int, tuple[NDArray[np.float32], NDArray[np.float32]]]:
        """By type whose samples have several pages: first pages and following ones, as rows of length 1."""
        found = {}
        for number, one in enumerate(self.classifier.types):
            first = [self._unit(sample.pages[0]) for sample in one.samples]
            following = [self._unit(page) for sample in one.samples for page in sample.pages[1:]]
            if following:
                found[number] = np.array(first, np.float32), np.array(following, np.float32)
        return found

    def _unit(self, page: PageSketch) -> NDArray[np.float32]:
        placed = self.space.place(bag_of_page(page))
        return placed.dense(self.space.width) / max(float(np.linalg.norm(placed.values)), 1e-6)

    def follows(self, placed: Placed | None) -> NDArray[np.float64]:
        """For each type how much more a page is like its following pages than like its first ones, in [-1, 1]."""
        likes = np.zeros(len(self.keys))
        if placed is None:
            return likes
        values = placed.values / max(float(np.linalg.norm(placed.values)), 1e-6)
        for number, (first, following) in self.roles.items():
            likes[number] = (following[:, placed.columns] @ values).max() - (first[:, placed.columns] @ values).max()
        return likes

    def place(self, bag: Bag) -> Placed | None:
        """Where a bag lies among the samples; None without samples."""
        return self.space.place(bag) if self.rows else None

    def scores(self, placed: Placed | None, pages: Sequence[PageSketch], told: Told = NOTHING_TOLD) -> Scores:
        """For each type how much speaks for it: 1 as much as for its own samples, 0 nothing."""
        scores = np.zeros(len(self.keys), np.float32)
        if placed is not None and len(self.with_samples) > 1:
            scores[self.with_samples] = placed.values @ self.fit.weights[placed.columns] + self.fit.base
        return scores + self.said_scores(pages, told)

    def left_out(self, number: int, pages: Sequence[PageSketch]) -> tuple[Placed, Scores]:
        """Where the sample of a row would lie, and what its scores would be, were it not among the samples.

        Words that it alone has would not be known then.
        """
        row, place = self.rows[number], self.placed[number]
        alone = (np.count_nonzero(self.table[:, place.columns], axis=0) < 2) & (place.columns < self.space.form_at)
        words = (place.columns < self.space.start["standing_out"]).sum() or 1
        known = 1 - float(alone[place.columns < self.space.start["standing_out"]].sum()) / float(words)
        scores = np.zeros(len(self.keys), np.float32)
        if len(self.with_samples) > 1:
            scores[self.with_samples] = self.fit.without[number]
        if sum(other.type == row.type for other in self.rows) < 2:
            scores[row.type] = min(float(scores[row.type]), 0.0)
        return Placed(place.columns[~alone], place.values[~alone], known, place.look), scores + self.said_scores(pages)

    def said_scores(self, pages: Sequence[PageSketch], told: Told = NOTHING_TOLD) -> Scores:
        """What cues and descriptions add for each type."""
        described = np.array([
            fits(one.description, pages) * (DESCRIBED if number in self.with_samples else 1.0) if one.description else 0
            for number, one in enumerate(self.classifier.types)
        ], np.float32)  # fmt: skip
        return described + self.cue_scores(pages, told)

    def cue_scores(self, pages: Sequence[PageSketch], told: Told = NOTHING_TOLD) -> Scores:
        """What cues add for each type."""
        return np.array(
            [cue_score(self.classifier, number, pages, told) for number in range(len(self.keys))], np.float32
        )


def shared_by(bags: Sequence[Bag]) -> Shared:
    """What most of these bags have, and what any of them has."""
    found: Shared = {}
    for block in BLOCKS:
        spread = Counter(token for bag in bags for token in bag.tokens[block])
        found[block] = frozenset(token for token, count in spread.items() if count > len(bags) / 2), frozenset(spread)
    return found


def cue_score(classifier: Classifier, number: int, pages: Sequence[PageSketch], told: Told = NOTHING_TOLD) -> float:
    """What the cues of one type add; those about what is not known of a document, such as a sender, say nothing."""
    one = classifier.types[number]
    if not one.cues or not pages:
        return 0.0
    weights = [(CUE[cue.weight], cue.speaks, bool(cue.found(pages, told))) for cue in one.cues if cue.applies(told)]
    speak = [weight for weight, speaks, found in weights if speaks == "for" and found]
    against = sum(weight for weight, speaks, found in weights if speaks == "against" and found)
    wanted = [weight for weight, speaks, _ in weights if speaks == "for"]
    missed = MISSED * max(wanted) if wanted and not speak else 0.0
    return sum(speak) - against - missed


def document_bag(pages: Sequence[PageSketch]) -> Bag:
    """The bag of a document's written pages."""
    return joined([bag_of_page(page) for page in pages])


def _rows(classifier: Classifier) -> list[Row]:
    return [
        Row(number, document_bag(sample.pages)) for number, one in enumerate(classifier.types) for sample in one.samples
    ]
