"""What is wrong, or will hardly work, with a classifier: each as a sentence."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations

from zestpail.core.classification.cues import BESIDE
from zestpail.core.classification.model import ClassifiedType, Classifier


def faults_of(classifier: Classifier) -> list[str]:
    """Sentences about types that cannot be told apart or hardly be known, and cues that tell nothing."""
    return [*_of_types(classifier), *_of_cues(classifier)]


def _of_types(classifier: Classifier) -> Iterator[str]:
    if not classifier.types:
        yield "It has no types: add one with a few samples."
    for one in classifier.types:
        if not one.samples and not one.cues and not one.description:
            yield f"{one.called} has no samples, no cues and no description, so nothing can be taken for it."
        elif len(one.samples) == 1:
            yield (
                f"{one.called} has one sample only: what such documents have in common shows from two on; "
                "three to five are better."
            )
    if len(classifier.types) == 1 and classifier.types[0].samples:
        yield "There is one type only: everything like its samples is taken for it. Add a second type to tell it from."
    for one, other in combinations(classifier.types, 2):
        same = {sample.pages for sample in one.samples} & {sample.pages for sample in other.samples}
        if same and len(same) == min(len(one.samples), len(other.samples)):
            yield f"{one.called} and {other.called} have the same samples, so they cannot be told apart."
        elif same:
            count = f"{len(same)} samples" if len(same) > 1 else "a sample"
            yield f"{one.called} and {other.called} have {count} in common: keep each with one of the two."


def _of_cues(classifier: Classifier) -> Iterator[str]:
    for one in classifier.types:
        for cue in (cue for cue in one.cues if cue.where not in BESIDE):
            fits = {
                other.key: sum(bool(cue.found(sample.pages)) for sample in other.samples) for other in classifier.types
            }
            full = [other for other in classifier.types if other.samples and fits[other.key] == len(other.samples)]
            with_samples = [other for other in classifier.types if other.samples]
            if cue.speaks == "for" and len(with_samples) > 1 and len(full) == len(with_samples):
                yield f"The cue of {one.called} ({cue.sentence}) fits every sample of every type, so it tells nothing."
            elif cue.speaks == "for" and one.samples and not fits[one.key]:
                yield f"The cue of {one.called} ({cue.sentence}) fits none of its own samples."
            elif clash := _clash(one, fits, classifier):
                yield f"The cue of {one.called} ({cue.sentence}) fits {clash} too."


def _clash(one: ClassifiedType, fits: dict[str, int], classifier: Classifier) -> str:
    """Samples of which other types a cue fits; "" for none."""
    others = [(other, fits[other.key]) for other in classifier.types if other.key != one.key and fits[other.key]]
    return " and ".join(f"{count} of {len(other.samples)} samples of {other.called}" for other, count in others)
