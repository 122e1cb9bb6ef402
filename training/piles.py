"""Teaches what binds pages together: ``python -m training.piles KEPT``, from readings of many makers' papers.

Pages that follow each other in a paper go on; also where pages between them are missing, since piles have gaps. The
first page of one paper after the last of another does not, above all where one maker made both: those differ least.
"""

from __future__ import annotations

import itertools
import random
import sys
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np
from sklearn.ensemble import HistGradientBoostingClassifier

from training import beginnings
from training.judge import as_numbers
from training.kept_readings import KeptPaper, kept_papers
from zestpail.core.classification.joining import Leaf, pair_facts
from zestpail.core.classification.page_ties import Facts, ties_of
from zestpail.core.learning.forest import Forest, averaged

TARGET = Path(__file__).parents[1] / "src/zestpail/core/classification/joining.json"
TREES, LEAVES, RATE, LEAST_IN_LEAF = 160, 10, 0.07, 20
BAGS, SHARE = 4, 0.75
"""Forests, and the share of makers that each of them learns from."""
OTHERS, GAPS, OF_ONE_MAKER = 6, 2, 4
"""Of each paper: beginnings after papers of other makers, pages after a gap, beginnings after the same maker's."""
SAME_SIZE, TRIES = 0.7, 6
"""How often a paper on sheets of the same size is sought, and how long."""
DRAWING = "drawing"
"""The kind of paper that is kept without its sheet."""
DRAWN = 0.2
"""What a pair with a drawing weighs: figures stand within papers more often than drawings lie between them."""
Example = tuple[Facts, bool, float]
Leaved = tuple[KeptPaper, list[Leaf]]


def examples(papers: Sequence[Leaved], seed: int = 1) -> Iterator[Example]:
    """Pairs of pages: their facts, whether they belong together, and what the pair weighs."""
    lot = random.Random(seed)
    makers: dict[str, list[Leaved]] = defaultdict(list)
    for paper, leaves in papers:
        makers[paper.maker].append((paper, leaves))
    ends = [(paper, leaves) for paper, leaves in papers if paper.whole]
    for paper, leaves in papers:
        for before, leaf in itertools.pairwise(leaves):
            yield pair_facts(before, leaf), True, 1.0
        for _ in range(GAPS if len(leaves) > 2 else 0):
            at = lot.randrange(len(leaves) - 2)
            yield pair_facts(leaves[at], leaves[lot.randrange(at + 2, len(leaves))]), True, 0.7
        for _ in range(OTHERS):
            of, other = lot.choice(ends if lot.random() < 0.8 else papers)
            for _ in range(TRIES if lot.random() < SAME_SIZE else 0):
                if abs(other[-1][0].width - leaves[0][0].width) < 6:
                    break
                of, other = lot.choice(ends)
            if other is not leaves:
                drawn = DRAWING in (paper.kind, of.kind)
                last = _on_a_sheet_like(other[-1], leaves[0]) if drawn else other[-1]
                yield pair_facts(last, leaves[0]), False, DRAWN if drawn else 0.6
        same = [other for one, other in makers[paper.maker] if other is not leaves and one.whole]
        for other in lot.sample(same, min(len(same), OF_ONE_MAKER)):
            yield pair_facts(other[-1], leaves[0]), False, 1.0


def _on_a_sheet_like(before: Leaf, leaf: Leaf) -> Leaf:
    """The page as if on a sheet of the other one's size: drawings are kept cropped, and are printed on sheets."""
    page = leaf[0]
    ties = replace(before[0], width=page.width, height=page.height, dpi=page.dpi, own_text=page.own_text)
    return ties, before[1]


def _forest(several: Sequence[Example], seed: int) -> Forest:
    names = tuple(sorted(several[0][0]))
    table = np.array([[facts[name] for name in names] for facts, _, _ in several])
    model = HistGradientBoostingClassifier(
        max_iter=TREES, max_leaf_nodes=LEAVES, learning_rate=RATE, min_samples_leaf=LEAST_IN_LEAF,
        l2_regularization=3.0, early_stopping=False, random_state=seed,
    )  # fmt: skip
    model.fit(table, [joined for _, joined, _ in several], sample_weight=[weight for _, _, weight in several])
    return as_numbers(model, names)


def taught(papers: Sequence[Leaved]) -> Forest:
    """What was learned of the papers: several forests, each of most of the makers, whose odds are averaged."""
    makers = sorted({paper.maker for paper, _ in papers})
    bags = [set(random.Random(at).sample(makers, int(SHARE * len(makers)))) for at in range(BAGS)]
    return averaged([
        _forest(list(examples([one for one in papers if one[0].maker in bag], seed=at + 1)), at)
        for at, bag in enumerate(bags)
    ])  # fmt: skip


def main(folder: Path) -> None:
    """Teach from the papers that are kept there, and say how right it is about makers that were set aside."""
    tied = [(paper, [ties_of(page) for page in paper.pages]) for paper in kept_papers(folder)]
    beginnings.write(tied)
    papers = [(paper, list(zip(ties, seen, strict=True)))
              for (paper, ties), seen in zip(tied, beginnings.seen_unseen(tied), strict=True)]  # fmt: skip
    makers = sorted({paper.maker for paper, _ in papers})
    aside = set(random.Random(2).sample(makers, len(makers) // 5))
    learned = taught([one for one in papers if one[0].maker not in aside])
    tried = list(examples([one for one in papers if one[0].maker in aside], seed=3))
    says = learned.log_odds([facts for facts, _, _ in tried]) > 0
    right = sum(bool(said) == joined for said, (_, joined, _) in zip(says, tried, strict=True))
    print(
        f"{len(papers)} papers of {len(makers)} makers; of {len(aside)} set aside {right} of {len(tried)} pairs right"
    )
    TARGET.write_text(taught(papers).model_dump_json(), "utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
