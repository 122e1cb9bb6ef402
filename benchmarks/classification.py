"""How long sorting takes: ``python -m benchmarks.classification`` (processor seconds, from readings that are there).

The demo's samples and binders, over and over: 200 samples are taught with, a pile of 500 pages is cut and classified.
"""

from __future__ import annotations

import sys
from itertools import cycle, islice
from pathlib import Path
from time import process_time

from zestpail.core.classification.folder import ReadFile, read_files
from zestpail.core.classification.model import ClassifiedType, Classifier, Sample
from zestpail.core.classification.sorting import sorted_samples
from zestpail.core.classification.stack import classify_stack
from zestpail.core.classification.taught import Taught
from zestpail.core.reading.page import PageReading

BINDERS = Path(__file__).parents[1] / "demo" / "files" / "binders"
SAMPLES, PAGES = 200, 500


def many_samples(read: list[ReadFile]) -> Classifier:
    """A classifier of 200 samples, each a little different from the others: words are left out here and there."""
    types: dict[str, list[Sample]] = {}
    for number, one in enumerate(islice(cycle(read), SAMPLES)):
        pages = tuple(
            ties.sketch.model_copy(
                update={"words": tuple(w for at, w in enumerate(ties.sketch.words) if (at + number) % 9)}
            )
            for ties in one.ties
        )
        types.setdefault(one.path.parent.name, []).append(Sample(name=f"{number} {one.path.name}", pages=pages))
    return Classifier(types=tuple(ClassifiedType(key=key, samples=tuple(several)) for key, several in types.items()))


def main() -> None:
    """Read once, then measure without reading."""
    samples = read_files(sorted(BINDERS.glob("samples/*/*")))
    piles = read_files(sorted(BINDERS.glob("*.tif")))
    classifier = many_samples(samples)
    classify_stack(Taught(classifier), piles[0].pages)  # whatever is loaded once
    begun = process_time()
    taught = Taught(classifier)
    shown = sorted_samples(taught)
    teaching = process_time() - begun
    pages: list[PageReading] = list(islice(cycle(page for pile in piles for page in pile.pages), PAGES))
    begun = process_time()
    documents = classify_stack(taught, pages)
    sorting = process_time() - begun
    print(f"teaching {SAMPLES} samples and telling each by the others: {teaching:.2f} s ({len(shown)} told)")
    print(f"cutting and classifying {len(pages)} pages: {sorting:.2f} s ({len(documents)} documents)")


if __name__ == "__main__":
    sys.exit(main())
