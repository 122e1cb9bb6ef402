"""How right a state of a type is on the samples that are kept for testing, against another state of it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from zestpail.core.document_type import DocumentType
from zestpail.core.evaluation.measure import Measure
from zestpail.core.evaluation.proof import Proof, prove
from zestpail.core.evaluation.proof import Sample as ProofSample
from zestpail.core.kinds.equality import same
from zestpail.store.tables import Sample


@dataclass(frozen=True)
class Pages:
    """Of the pages that hold labelled values, how many hold none that is wrong."""

    right: int
    of: int


@dataclass(frozen=True)
class Tested:
    """One state of a type on its test samples."""

    name: str
    measure: Measure
    pages: Pages


def tested(name: str, doc_type: DocumentType, samples: Sequence[ProofSample], rows: Mapping[int, Sample]) -> Tested:
    """What the type finds on the samples, against what is right."""
    proof = prove(doc_type, samples)
    measure = Measure()
    for sample in samples:
        found = {
            key: (one.found.value, one.found.confidence)
            for key, one in proof[sample.id].items()
            if key in doc_type.names
        }
        truth = {key: value for key, value in sample.truth.items() if key in doc_type.names}
        if truth:
            measure.add(str(sample.id), found, truth)
    return Tested(name, measure, _pages(proof, samples, rows))


def _pages(proof: Proof, samples: Sequence[ProofSample], rows: Mapping[int, Sample]) -> Pages:
    right: dict[tuple[int, int], bool] = defaultdict(lambda: True)
    for sample in samples:
        for key, wanted in sample.truth.items():
            if key not in proof[sample.id]:
                continue
            found = proof[sample.id][key].found
            page = (rows[sample.id].truth[key].get("page") if sample.id in rows else None) or found.page or 0
            right[sample.id, page] &= same(found.value, wanted)
    return Pages(sum(right.values()), len(right))
