"""Teaches how sure a type is that a few samples speak for: ``python -m training.belonging KEPT``.

Many small classifiers are taught with a few samples of a few kinds of paper each; papers of these kinds and of others
are put to them, and it is learned when the type with the highest score was right.
"""

from __future__ import annotations

import random
import sys
from collections.abc import Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from sklearn.ensemble import HistGradientBoostingClassifier

from training.judge import as_numbers
from training.kept_readings import Sketched, sketched_papers
from training.kinds import Looks, looks_unseen, mark_of
from zestpail.core.classification.belonging import Facts, belonging_facts
from zestpail.core.classification.model import ClassifiedType, Classifier, Sample, kept_pages
from zestpail.core.classification.taught import Taught, document_bag
from zestpail.core.learning.forest import Forest

TARGET = Path(__file__).parents[1] / "src/zestpail/core/classification/belonging.json"
TREES, LEAVES, RATE, LEAST_IN_LEAF = 100, 6, 0.06, 40
CLASSIFIERS, MOST_OF_A_KIND, FEWEST = 420, 8, 7
"""Small classifiers; papers of a kind that are put to each; makers that a kind needs to be taught with."""
SAMPLES, SAMPLES_OF_ONE = (1, 2, 3, 3, 4, 4, 5), (2, 3)
OF_ONE_MAKER = 0.4
"""How often all samples of a type are of one maker."""
ALIKE = (
    {"bank-statement", "supplier-statement"}, {"order-confirmation", "purchase-order"},
    {"packing-list", "delivery-note"},
    {"package-papers", "thesis", "article", "exam"}, {"flyer", "poster", "slides", "package-papers"},
    {"application-form", "contract", "certificate"},
)  # fmt: skip
"""Kinds that people would hardly tell apart: strangers to each other now and then only."""
ALIKE_SHOWN = 0.2
RIGHT, STRANGE, WRONG = 0.5, 0.35, 0.15
"""What the three kinds of example weigh together in each classifier: right, of no type, of another type."""


@dataclass(frozen=True)
class Trial:
    """What one small classifier made of the papers that were put to it."""

    facts: list[Facts]
    right: NDArray[np.bool_]
    weight: NDArray[np.float64]


def trial(papers: Mapping[str, Sequence[Sketched]], looks: Looks, seed: int) -> Trial:
    """Teach a classifier by lot and put papers to it."""
    lot = random.Random(seed)
    if lot.random() < OF_ONE_MAKER:
        samples = _of_one_maker(papers, lot)
    else:
        many = [kind for kind, several in papers.items() if len({maker for maker, _ in several}) >= FEWEST]
        count = lot.choice(SAMPLES)
        chosen = lot.sample(many, lot.randint(2, min(12, len(many))))
        samples = {kind: _of_makers(papers[kind], count, lot) for kind in chosen}
    kinds = list(samples)
    classifier = Classifier(types=tuple(
        ClassifiedType(key=kind, samples=tuple(
            Sample(name=str(at), pages=kept_pages(papers[kind][at][1])) for at in samples[kind]
        )) for kind in kinds
    ))  # fmt: skip
    taught = Taught(classifier, lambda bag: looks[mark_of(bag)])
    near = set().union(*(group for group in ALIKE if group & set(kinds)))
    facts, right, strange = [], [], []
    for kind, several in papers.items():
        taken = samples.get(kind, [])
        seen = {several[at][0] for at in taken} if len({several[at][0] for at in taken}) == len(taken) > 1 else set()
        free = [at for at, (maker, _) in enumerate(several) if maker not in seen and at not in taken]
        for at in lot.sample(free, min(len(free), MOST_OF_A_KIND)):
            if kind not in kinds and kind in near and lot.random() > ALIKE_SHOWN:
                continue
            _, pages = several[at]
            bag = document_bag(pages)
            placed = taught.space.place(bag)
            scores = taught.scores(placed, pages)
            facts.append(belonging_facts(taught, placed, bag, scores))
            right.append(taught.keys[int(scores.argmax())] == kind)
            strange.append(kind not in kinds)
    good, odd = np.array(right), np.array(strange)
    bad = ~good & ~odd
    weight = np.where(
        good, RIGHT / max(good.sum(), 1), np.where(odd, STRANGE / max(odd.sum(), 1), WRONG / max(bad.sum(), 1))
    )
    return Trial(facts, good, weight * len(good))


def _of_makers(several: Sequence[Sketched], count: int, lot: random.Random) -> list[int]:
    """Numbers of so many papers, each of another maker: what is put to it then is of makers not seen."""
    makers = lot.sample(sorted({maker for maker, _ in several}), count)
    return [lot.choice([at for at, (maker, _) in enumerate(several) if maker == one]) for one in makers]


def _of_one_maker(papers: Mapping[str, Sequence[Sketched]], lot: random.Random) -> dict[str, list[int]]:
    """By kind a few papers of one maker, as an office has them that gets one form again and again."""
    chosen: dict[str, list[int]] = {}
    for kind, several in papers.items():
        by_maker: dict[str, list[int]] = {}
        for at, (maker, _) in enumerate(several):
            by_maker.setdefault(maker, []).append(at)
        whole = [numbers for numbers in by_maker.values() if len(numbers) > max(SAMPLES_OF_ONE)]
        if whole:
            chosen[kind] = lot.sample(lot.choice(whole), lot.choice(SAMPLES_OF_ONE))
    return {kind: chosen[kind] for kind in lot.sample(sorted(chosen), lot.randint(2, min(10, len(chosen))))}


def taught(trials: Sequence[Trial]) -> Forest:
    """What was learned of them."""
    names = tuple(sorted(trials[0].facts[0]))
    table = np.array([[facts.get(name, np.nan) for name in names] for one in trials for facts in one.facts])
    model = HistGradientBoostingClassifier(
        max_iter=TREES, max_leaf_nodes=LEAVES, learning_rate=RATE, min_samples_leaf=LEAST_IN_LEAF,
        l2_regularization=5.0, early_stopping=False, random_state=1,
    )  # fmt: skip
    model.fit(table, np.concatenate([one.right for one in trials]),
              sample_weight=np.concatenate([one.weight for one in trials]))  # fmt: skip
    return as_numbers(model, names)


def main(folder: Path) -> None:
    """Teach from the papers that are kept there."""
    papers = sketched_papers(folder)
    looks = looks_unseen(papers)
    print({kind: len(several) for kind, several in papers.items()})
    with ProcessPoolExecutor() as pool:
        trials = list(pool.map(trial, [papers] * CLASSIFIERS, [looks] * CLASSIFIERS, range(CLASSIFIERS)))
    TARGET.write_text(taught(trials).model_dump_json(), "utf-8")
    print(f"{sum(len(one.facts) for one in trials)} papers put to {CLASSIFIERS} classifiers")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
