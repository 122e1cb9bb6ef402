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

from training.judge import as_numbers
from training.kept_readings import KeptPaper, kept_papers
from zestpail.core.classification.page_ties import Facts, PageTies, facts_between, ties_of
from zestpail.core.learning.forest import Forest

TARGET = Path(__file__).parents[1] / "src/zestpail/core/classification/joining.json"
TREES, LEAVES, RATE, LEAST_IN_LEAF = 160, 10, 0.07, 20
OTHERS, GAPS, OF_ONE_MAKER = 6, 2, 4
"""Of each paper: beginnings after papers of other makers, pages after a gap, beginnings after the same maker's."""
SAME_SIZE = 0.8
"""How often two papers are taken to be on sheets of the same size."""
Example = tuple[Facts, bool, float]


def examples(papers: Sequence[tuple[KeptPaper, list[PageTies]]], seed: int = 1) -> Iterator[Example]:
    """Pairs of pages: their facts, whether they belong together, and what the pair weighs."""
    lot = random.Random(seed)
    makers: dict[str, list[tuple[KeptPaper, list[PageTies]]]] = defaultdict(list)
    for paper, ties in papers:
        makers[paper.maker].append((paper, ties))
    ends = [(paper, ties) for paper, ties in papers if paper.whole]
    for paper, ties in papers:
        for before, page in itertools.pairwise(ties):
            yield facts_between(before, page), True, 1.0
        for _ in range(GAPS if len(ties) > 2 else 0):
            at = lot.randrange(len(ties) - 2)
            yield facts_between(ties[at], ties[lot.randrange(at + 2, len(ties))]), True, 0.7
        for _ in range(OTHERS):
            _, other = lot.choice(ends if lot.random() < 0.8 else papers)
            if other is not ties:
                yield facts_between(_on_sheets_of(other[-1], ties[0], lot), ties[0]), False, 0.6
        same = [other for one, other in makers[paper.maker] if other is not ties and one.whole]
        for other in lot.sample(same, min(len(same), OF_ONE_MAKER)):
            yield facts_between(other[-1], ties[0]), False, 1.0


def _on_sheets_of(before: PageTies, page: PageTies, lot: random.Random) -> PageTies:
    """The page on a sheet of the same size and resolution, as piles are copied and scanned together; mostly."""
    if lot.random() > SAME_SIZE:
        return before
    return replace(before, width=page.width, height=page.height, dpi=page.dpi, own_text=page.own_text)


def taught(several: Sequence[Example]) -> Forest:
    """What was learned of them."""
    names = tuple(sorted(several[0][0]))
    table = np.array([[facts[name] for name in names] for facts, _, _ in several])
    model = HistGradientBoostingClassifier(
        max_iter=TREES, max_leaf_nodes=LEAVES, learning_rate=RATE, min_samples_leaf=LEAST_IN_LEAF,
        l2_regularization=3.0, early_stopping=False, random_state=1,
    )  # fmt: skip
    model.fit(table, [joined for _, joined, _ in several], sample_weight=[weight for _, _, weight in several])
    return as_numbers(model, names)


def main(folder: Path) -> None:
    """Teach from the papers that are kept there, and say how right it is about makers that were set aside."""
    papers = [(paper, [ties_of(page) for page in paper.pages]) for paper in kept_papers(folder)]
    makers = sorted({paper.maker for paper, _ in papers})
    aside = set(random.Random(2).sample(makers, len(makers) // 5))
    learned = taught(list(examples([one for one in papers if one[0].maker not in aside])))
    tried = list(examples([one for one in papers if one[0].maker in aside], seed=3))
    says = learned.log_odds([facts for facts, _, _ in tried]) > 0
    right = sum(bool(said) == joined for said, (_, joined, _) in zip(says, tried, strict=True))
    print(
        f"{len(papers)} papers of {len(makers)} makers; of {len(aside)} set aside {right} of {len(tried)} pairs right"
    )
    TARGET.write_text(taught(list(examples(papers))).model_dump_json(), "utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
