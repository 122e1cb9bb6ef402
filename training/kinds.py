"""Teaches what parts general kinds of paper from each other: ``python -m training.kinds KEPT``."""

from __future__ import annotations

import json
import sys
from collections.abc import Mapping, Sequence
from pathlib import Path

import numpy as np
from sklearn.linear_model import LogisticRegression
from sklearn.model_selection import GroupKFold

from training.kept_readings import Sketched, sketched_papers
from zestpail.core.classification.bag import Bag
from zestpail.core.classification.kinds import FAR, Kinds, Vector, row_of
from zestpail.core.classification.page_sketch import SHAPE
from zestpail.core.classification.taught import document_bag

TARGET = Path(__file__).parents[1] / "src/zestpail/core/classification/kinds.json"
FREEDOM, ROUNDS, LEAST_SPREAD = 0.3, 400, 0.1
"""The price on weights (its inverse); a column varies by so much at least."""
FOLDS = 5
Looks = dict[bytes, Vector]
"""By the mark of a paper how it looks to a model that was not taught with any paper of its maker."""


def mark_of(bag: Bag) -> bytes:
    """What tells a paper from the others: the form and picture of its first page, which its samples have too."""
    return bytes(bag.form[: len(SHAPE)].tobytes() + bag.picture.tobytes())


def taught(bags: Sequence[Bag], kinds: Sequence[str]) -> Kinds:
    """A model of these papers; each kind weighs the same."""
    place = {name: at for at, name in enumerate(sorted({name for bag in bags for name in bag.tokens["concepts"]}))}
    rows = np.array([row_of(place, bag.tokens["concepts"], bag.form) for bag in bags])
    middle, spread = rows.mean(axis=0), np.maximum(rows.std(axis=0), LEAST_SPREAD)
    model = LogisticRegression(C=FREEDOM, class_weight="balanced", max_iter=ROUNDS)
    model.fit(np.clip((rows - middle) / spread, -FAR, FAR), list(kinds))
    return Kinds(tuple(map(str, model.classes_)), place, middle, spread,
                 model.coef_.T.astype(np.float32), model.intercept_.astype(np.float32))  # fmt: skip


def looks_unseen(papers: Mapping[str, Sequence[Sketched]]) -> Looks:
    """How each paper looks to a model that knows nothing of its maker; kinds that it does not know have no share."""
    named = [(kind, at) for kind, several in papers.items() for at in range(len(several))]
    bags = [document_bag(papers[kind][at][1]) for kind, at in named]
    makers = [papers[kind][at][0] for kind, at in named]
    every, looks, right = sorted(papers), {}, 0
    for known, unseen in GroupKFold(FOLDS).split(bags, groups=makers):
        model = taught([bags[at] for at in known], [named[at][0] for at in known])
        places = [every.index(name) for name in model.names]
        for at in unseen:
            look = np.zeros(len(every), np.float32)
            look[places] = model.look(bags[at].tokens["concepts"], bags[at].form)
            looks[mark_of(bags[at])] = look
            right += every[int(look.argmax())] == named[at][0]
    print(f"kinds told of makers not seen: {right} of {len(named)}")
    return looks


def main(folder: Path) -> None:
    """Teach from the papers that are kept there."""
    papers = sketched_papers(folder)
    looks_unseen(papers)
    every = [(document_bag(pages), kind) for kind, several in papers.items() for _, pages in several]
    model = taught([bag for bag, _ in every], [kind for _, kind in every])
    told = {
        "kinds": model.names, "concepts": list(model.place),
        "middle": model.middle.round(4).tolist(), "spread": model.spread.round(4).tolist(),
        "base": model.base.round(3).tolist(), "weights": model.weights.round(3).tolist(),
    }  # fmt: skip
    TARGET.write_text(json.dumps(told, separators=(",", ":")).replace("],", "],\n") + "\n", "utf-8")
    print(f"{len(every)} papers of {len(papers)} kinds: {TARGET}, {TARGET.stat().st_size // 1024} kB")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
