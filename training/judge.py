"""Teaches the judge from papers with their truth: ``python -m training.judge FOLDER… [--aside FOLDER]``.

For every paper all finders propose their candidates; those that say what the truth says are right, all others wrong.
For each kind of value gradient boosting learns from that how likely a candidate is right (scikit-learn). The trees are
written as plain numbers to ``judge.json``, so that only whoever teaches needs scikit-learn. The same papers and the
same seed make the same judge. Of papers set aside it is printed how often the likeliest candidate was right.
"""

from __future__ import annotations

import argparse
import json
import random
import re
from collections.abc import Iterator, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from rapidfuzz.distance import Levenshtein
from sklearn.ensemble import HistGradientBoostingClassifier

from training.scanned import as_if_scanned
from zestpail.core.document_type import load_type
from zestpail.core.extraction.extract import surroundings_of
from zestpail.core.finders import SearchContext
from zestpail.core.kinds.equality import same
from zestpail.core.landmarks.labels import Label
from zestpail.core.learning.forest import Forest, averaged
from zestpail.core.learning.judge import SPOKEN
from zestpail.core.learning.truth import TRUTH
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.read import read_page

TARGET = Path(__file__).parents[1] / "src/zestpail/core/learning/judge.json"
TREES, LEAVES, RATE, LEAST_IN_LEAF = 100, 12, 0.08, 40
"""Of the boosting; chosen on composed papers set aside: more leaves learn the composer's habits."""
BAGS, SHARE = 3, 0.6
"""Forests that are taught apart, each on this share of the papers, and whose odds are averaged: one alone learns
accidents of its papers (values of other makers' papers that it gets right differ by four of 300 from seed to seed)."""
SCANNED = 0.35
"""The share of papers that are read as if they had been scanned."""
SHORTEST = 8
"""Of so many characters one may be misread and the place still be right."""
EVERYTHING = 1e9
"""A threshold that every known value is under, as JSON has no infinity."""
FORGOTTEN, FORGETFUL = 0.35, 0.4
"""The share of papers read with words missing, and of the labels missing then: strangers have others."""


@dataclass(frozen=True)
class Example:
    """One candidate of one field of one paper."""

    paper: str
    field: str
    kind: str
    facts: dict[str, float]
    score: float
    right: bool


def examples_of(path: Path) -> list[Example]:
    """All candidates of a paper, right and wrong."""
    data = path.read_bytes()
    pages = tuple(read_page(open_page(data, at), second=False).reading for at in range(count_pages(data)))
    lot = random.Random(f"scan/{path.name}")
    if lot.random() < SCANNED:
        pages = tuple(as_if_scanned(page, lot) for page in pages)
    wanted: Mapping[str, str | None] = json.loads(Path(f"{path}{TRUTH}").read_text("utf-8"))["fields"]
    doc_type = load_type("supplier-invoice")
    context = SearchContext(DocumentReading(pages), _remembered(doc_type.labels, path.name), doc_type.landmarks)
    surroundings = surroundings_of(context, doc_type)
    found = []
    for field in doc_type.fields:
        if field.key not in wanted or field.kind.kind not in SPOKEN:
            continue
        for candidate, facts in zip(surroundings.options[field.key], surroundings.of_field(field), strict=True):
            right = _says(candidate.value, wanted[field.key], field.kind.kind)
            found.append(Example(path.name, field.key, field.kind.kind, facts, candidate.score, right))
    return found


def _remembered(labels: Sequence[Label], seed: str) -> tuple[Label, ...]:
    """The labels as the judge's teacher remembers them: of some papers a good part is forgotten."""
    lot = random.Random(seed)
    if lot.random() > FORGOTTEN:
        return tuple(labels)
    return tuple(label for label in labels if lot.random() > FORGETFUL)


def _says(value: str, wanted: str | None, kind: str) -> bool:
    if wanted is None:
        return False
    if kind in ("code", "vat_number", "iban"):
        return _alike(_bare(value), _bare(wanted))
    return _alike(value, wanted) if kind == "firm" else same(value, wanted)


def _alike(value: str, wanted: str) -> bool:
    """Whether it is the value in its place, a character of which may be misread: reading is judged apart."""
    return same(value, wanted) or Levenshtein.distance(value, wanted) <= len(wanted) // SHORTEST


def _bare(text: str) -> str:
    return re.sub(r"[\W_]|(?:MVA|MWST)$", "", text.upper())


def taught(examples: Sequence[Example]) -> dict[str, Forest]:
    """By kind of value what was learned."""
    papers = sorted({example.paper for example in examples})
    bags = [set(random.Random(at).sample(papers, int(SHARE * len(papers)))) for at in range(BAGS)]
    return {
        kind: averaged([_forest([e for e in of_kind if e.paper in bag]) for bag in bags])
        for kind in SPOKEN
        if (of_kind := [e for e in examples if e.kind == kind])
    }


def _forest(examples: Sequence[Example]) -> Forest:
    names = tuple(sorted({name for example in examples for name in example.facts}))
    table = np.array([[example.facts.get(name, np.nan) for name in names] for example in examples])
    model = HistGradientBoostingClassifier(
        max_iter=TREES, max_leaf_nodes=LEAVES, learning_rate=RATE, min_samples_leaf=LEAST_IN_LEAF,
        l2_regularization=1.0, early_stopping=False, random_state=1,
    )  # fmt: skip
    model.fit(table, [example.right for example in examples])
    return as_numbers(model, names)


def as_numbers(model: HistGradientBoostingClassifier, names: tuple[str, ...]) -> Forest:
    roots: list[int] = []
    feature: list[int] = []
    threshold: list[float] = []
    left: list[int] = []
    right: list[int] = []
    unknown_left: list[bool] = []
    for (tree,) in model._predictors:
        first = len(feature)
        roots.append(first)
        for node in tree.nodes:
            leaf = bool(node["is_leaf"])
            feature.append(-1 if leaf else int(node["feature_idx"]))
            at = float(node["value"] if leaf else node["num_threshold"])
            threshold.append(round(min(at, EVERYTHING), 5))
            left.append(0 if leaf else first + int(node["left"]))
            right.append(0 if leaf else first + int(node["right"]))
            unknown_left.append(bool(node["missing_go_to_left"]))
    return Forest(
        features=names, base=float(model._baseline_prediction[0, 0]), roots=tuple(roots), feature=tuple(feature),
        threshold=tuple(threshold), left=tuple(left), right=tuple(right), unknown_left=tuple(unknown_left),
    )  # fmt: skip


def compared(forests: Mapping[str, Forest], examples: Sequence[Example]) -> Iterator[str]:
    """By field how often the best candidate is right, by the finders' scores and by the judge."""
    for kind, forest in forests.items():
        of_kind = [example for example in examples if example.kind == kind]
        for key in sorted({example.field for example in of_kind}):
            of_field = [example for example in of_kind if example.field == key]
            likely = forest.log_odds([example.facts for example in of_field])
            papers: dict[str, list[tuple[float, float, bool]]] = {}
            for example, odds in zip(of_field, likely, strict=True):
                papers.setdefault(example.paper, []).append((example.score, float(odds), example.right))
            there = [several for several in papers.values() if any(right for _, _, right in several)]
            by_score = sum(max(several, key=lambda one: one[0])[2] for several in there)
            by_judge = sum(max(several, key=lambda one: one[1])[2] for several in there)
            yield f"{key:18} best candidate right: finders {by_score}, judge {by_judge} of {len(there)}"


def _examples(folders: Sequence[Path]) -> list[Example]:
    paths = [Path(str(truth).removesuffix(TRUTH)) for folder in folders for truth in sorted(folder.glob(f"*{TRUTH}"))]
    with ProcessPoolExecutor() as pool:
        return [example for several in pool.map(examples_of, paths, chunksize=4) for example in several]


def teach(folders: Sequence[Path], aside: Sequence[Path]) -> None:
    """Teach from the papers in the folders, write the judge, and say what it is worth on those set aside."""
    examples = _examples(folders)
    forests = taught(examples)
    body = {"forests": {kind: json.loads(forest.model_dump_json()) for kind, forest in forests.items()}}
    TARGET.write_text(json.dumps(body, separators=(",", ":")).replace("],", "],\n") + "\n", "utf-8")
    papers = len({example.paper for example in examples})
    print(f"{len(examples)} candidates of {papers} papers: {TARGET}, {TARGET.stat().st_size // 1024} kB")
    for line in compared(forests, _examples(aside) if aside else examples):
        print(line)


def main() -> None:
    """Teach from folders that are there."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("folders", nargs="+", type=Path)
    asked.add_argument("--aside", nargs="*", type=Path, default=[])
    given = asked.parse_args()
    teach(given.folders, given.aside)


if __name__ == "__main__":
    main()
