"""A pile in one pass: cut by sheets, barcodes and blank pages where they are, by recognising first pages elsewhere."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict

from zestpail.core.classification.bag import bag_of_page, joined
from zestpail.core.classification.cues import BESIDE, NOTHING_TOLD, Told
from zestpail.core.classification.decide import Decision, decide
from zestpail.core.classification.model import UNKNOWN
from zestpail.core.classification.page_sketch import sketch_of
from zestpail.core.classification.stack import classify_stack
from zestpail.core.classification.taught import Taught
from zestpail.core.reading.page import PageReading
from zestpail.core.separation import Separation, SplitDocument, SplitResult, split_stack


class Sorted(BaseModel):
    """What a document was taken for, and where it is in doubt that it begins or ends."""

    model_config = ConfigDict(frozen=True)

    decision: Decision
    doubtful: tuple[int, ...] = ()
    """Those of its pages, from 0, of which it is in doubt whether they begin a document; 0 is its own beginning."""

    @property
    def doubtful_cut(self) -> bool:
        """Whether it is in doubt where it begins or ends."""
        return bool(self.doubtful)

    @property
    def needs_person(self) -> bool:
        """Whether somebody must say what it is, or where it begins."""
        return self.decision.state != "sure" or self.doubtful_cut


class SortedPile(BaseModel):
    """What became of every page, and for each document what it was taken for; None where a sheet said what it is."""

    model_config = ConfigDict(frozen=True)

    split: SplitResult
    sorted: tuple[Sorted | None, ...] = ()


def sort_pile(
    pages: Sequence[PageReading], separation: Separation, taught: Taught, told: Told = NOTHING_TOLD
) -> SortedPile:
    """Cut and classify a pile. What a sheet says stands: a document whose sheet names its type is not looked at."""
    cut = split_stack(pages, separation)
    documents: list[SplitDocument] = []
    found: list[Sorted | None] = []
    for stretch in cut.documents:
        if stretch.type:
            documents.append(stretch)
            found.append(None)
        elif separation.documents.begin == "recognised":
            for document, sorted_as in _within(stretch, pages, taught, told):
                documents.append(document)
                found.append(sorted_as)
        else:
            documents.append(stretch)
            found.append(Sorted(decision=decided([pages[at] for at in stretch.pages], taught, told)))
    return SortedPile(split=SplitResult(documents=tuple(documents), left_out=cut.left_out), sorted=tuple(found))


def decided(pages: Sequence[PageReading], taught: Taught, told: Told = NOTHING_TOLD) -> Decision:
    """What a document of these pages is; what is ``told`` of its file holds for it too."""
    sketches = [sketch for page in pages if not (sketch := sketch_of(page)).empty]
    if not sketches:
        return Decision(type=UNKNOWN, confidence=1.0, state="unknown")
    known = told.model_copy(update={"barcodes": tuple(code.text for page in pages for code in page.barcodes)})
    return decide(taught, joined([bag_of_page(sketch) for sketch in sketches]), sketches, known)


def _within(
    stretch: SplitDocument, pages: Sequence[PageReading], taught: Taught, told: Told
) -> list[tuple[SplitDocument, Sorted]]:
    """The documents in pages that lie between two settled beginnings; blank ones stay with what is before them."""
    classified = classify_stack(taught, [pages[at] for at in stretch.pages])
    if not classified:
        return [(stretch, Sorted(decision=decided([pages[at] for at in stretch.pages], taught, told)))]
    beside = any(cue.where in BESIDE for one in taught.classifier.types for cue in one.cues)
    starts = [0, *(one.pages[0] for one in classified[1:])]
    ends = [*starts[1:], len(stretch.pages)]
    found = []
    for one, start, end in zip(classified, starts, ends, strict=True):
        own: dict[str, object] = {"pages": stretch.pages[start:end]}
        if start:
            own |= {"why": one.why, "doubt": ""} | ({} if stretch.bundle is not None else {"values": {}, "mail": ""})
        doubtful = tuple(at - start for at in one.doubtful_pages)
        decision = decided([pages[at] for at in stretch.pages[start:end]], taught, told) if beside else one.decision
        found.append((stretch.model_copy(update=own), Sorted(decision=decision, doubtful=doubtful)))
    return found
