"""Teaches what first pages look like; part of ``python -m training.piles``, which needs it of pages not taught with."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from pathlib import Path

import numpy as np
from sklearn.ensemble import HistGradientBoostingClassifier
from sklearn.model_selection import GroupKFold

from training import kinds
from training.judge import as_numbers
from training.kept_readings import KeptPaper
from zestpail.core.classification.bag import Bag, bag_of_page, joined
from zestpail.core.classification.beginnings import Seen, page_facts
from zestpail.core.classification.page_ties import PageTies
from zestpail.core.learning.forest import Forest

TARGET = Path(__file__).parents[1] / "src/zestpail/core/classification/beginnings.json"
TREES, LEAVES, RATE, LEAST_IN_LEAF = 120, 8, 0.08, 20
MOST_WEIGHT = 3.0
"""The pages of a kind weigh the same together, but no page more than so many usual ones."""
Tied = tuple[KeptPaper, list[PageTies]]


def taught(papers: Sequence[Tied], bags: Sequence[Sequence[Bag]]) -> Forest:
    """What was learned of the first and following pages of these papers."""
    facts = [page_facts(bag) for several in bags for bag in several]
    names = tuple(sorted({name for one in facts for name in one}))
    pages = Counter(paper.kind for (paper, ties) in papers for _ in ties)
    weight = np.array([1 / pages[paper.kind] for paper, ties in papers for _ in ties])
    model = HistGradientBoostingClassifier(
        max_iter=TREES, max_leaf_nodes=LEAVES, learning_rate=RATE, min_samples_leaf=LEAST_IN_LEAF,
        early_stopping=False, random_state=1,
    )  # fmt: skip
    model.fit(
        np.array([[one.get(name, 0.0) for name in names] for one in facts]),
        [at == 0 for several in bags for at in range(len(several))],
        sample_weight=np.minimum(weight / weight.mean(), MOST_WEIGHT),
    )
    return as_numbers(model, names)


def seen_unseen(papers: Sequence[Tied]) -> list[list[Seen]]:
    """How each page looks to models that know nothing of its maker."""
    bags = [[bag_of_page(page.sketch) for page in ties] for _, ties in papers]
    seen: list[list[Seen]] = [[] for _ in papers]
    makers = [paper.maker for paper, _ in papers]
    for known, unseen in GroupKFold(kinds.FOLDS).split(papers, groups=makers):
        forest = taught([papers[at] for at in known], [bags[at] for at in known])
        model = kinds.taught([joined(bags[at]) for at in known], [papers[at][0].kind for at in known])
        nothing = dict.fromkeys(forest.features, 0.0)
        for at in unseen:
            first = forest.log_odds([nothing | page_facts(bag) for bag in bags[at]])
            seen[at] = [
                Seen(float(odds), model.look(bag.tokens["concepts"], bag.form))
                for odds, bag in zip(first, bags[at], strict=True)
            ]
    return seen


def write(papers: Sequence[Tied]) -> None:
    """Teach of all papers and keep what was learned."""
    bags = [[bag_of_page(page.sketch) for page in ties] for _, ties in papers]
    TARGET.write_text(taught(papers, bags).model_dump_json(), "utf-8")
