"""Documents are told apart from few samples, cues and sentences; piles are cut; doubts and faults are said in words."""

from __future__ import annotations

import itertools
import json
from functools import cache
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.paper import page as typed
from tests.core.test_separation import BLANK, side
from zestpail.core.classification.bag import bag_of_page, joined
from zestpail.core.classification.beginnings import seen_of
from zestpail.core.classification.concepts import concepts_in
from zestpail.core.classification.cues import Cue
from zestpail.core.classification.cutting import best_cut
from zestpail.core.classification.decide import decide
from zestpail.core.classification.faults import faults_of
from zestpail.core.classification.file import read_classifier, written
from zestpail.core.classification.files import records_of
from zestpail.core.classification.folder import ReadFile, read_file, sample_files, teach_folder
from zestpail.core.classification.model import ClassifiedType, Classifier, Sample
from zestpail.core.classification.page_sketch import PageSketch, sketch_of
from zestpail.core.classification.page_ties import facts_between, ties_of
from zestpail.core.classification.pile import sort_pile
from zestpail.core.classification.sorting import sorted_samples
from zestpail.core.classification.space import look_of
from zestpail.core.classification.taught import Taught, document_bag
from zestpail.core.evaluation.classification import class_report, evaluate_classifier
from zestpail.core.problems import Unreadable
from zestpail.core.reading.page import PageReading
from zestpail.core.separation import AtPrintedSheet, AtRecognised, Separation

BINDERS = Path(__file__).parents[2] / "demo" / "files" / "binders"
BERTHS = (
    "Waste receipt\nPlastics 2.4\nOily water 1.1\nReceived at quay {0}",
    "Waste receipt {0}\nFood wastes 0.4\nReceived",
)
CALLS = (
    "Pilot ticket {0}\nFrom outer roads\nTo inner basin\nHours 2",
    "Pilot ticket\nFrom station {0}\nTo quay\nHours 1",
)


def sample(text: str, at: int = 0) -> Sample:
    return Sample(name=f"sample {at}", pages=(sketch_of(typed(text.format(at + 3))),))


def of_type(key: str, *texts: str, **more: object) -> ClassifiedType:
    return ClassifiedType.model_validate(
        {"key": key, "samples": tuple(sample(text, at) for at, text in enumerate(texts)), **more}
    )


TWO = Classifier(types=(of_type("waste", *BERTHS, *BERTHS), of_type("pilot", *CALLS, *CALLS)))


@cache
def board() -> tuple[Taught, dict[str, ReadFile]]:
    """The demo's samples, taught; and its binders as they were read."""
    classifier, aside = teach_folder(BINDERS / "samples")
    assert aside == []
    return Taught(classifier), {path.name: read_file(path) for path in sorted(BINDERS.glob("*.tif"))}


@pytest.mark.parametrize("name", ["binder-01.tif", "binder-03.tif"])
def test_binders_come_out_as_they_were_put_together(name: str) -> None:
    taught, read = board()
    truth = json.loads((BINDERS / f"{name}.truth.json").read_text())["documents"]
    found = records_of(read[name], taught)
    assert [one.pages for one in found] == [one["pages"] for one in truth]
    kinds = [(one.type, wanted["type"], one.state) for one, wanted in zip(found, truth, strict=True)]
    assert all(told in (wanted, "unknown") or state == "check" for told, wanted, state in kinds), kinds
    assert sum(told == wanted for told, wanted, _ in kinds) >= len(kinds) - 1, kinds
    assert all(told == wanted for told, wanted, state in kinds if state == "sure")
    sure = next(one for one in found if one.type == "incident-report")
    assert any("report" in reason.words for reason in sure.reasons if reason.speaks == "for")


def test_a_binder_of_invoices_is_cut_where_one_has_two_pages(tmp_path: Path) -> None:
    _, read = board()
    demo = BINDERS.parent / "supplier-invoices"
    for key, names in {"invoice": ("bight-01.tif", "tarnwick-03.pdf", "norrhavn-01.pdf", "dredgemoor-01.pdf")}.items():
        (tmp_path / key).mkdir()
        for name in names:
            (tmp_path / key / name).symlink_to(demo / name)
    (tmp_path / "waste-receipt").symlink_to(BINDERS / "samples" / "waste-receipt")
    taught = Taught(teach_folder(tmp_path)[0])
    found = records_of(read["binder-02.tif"], taught)
    truth = json.loads((BINDERS / "binder-02.tif.truth.json").read_text())["documents"]
    assert [one.pages for one in found] == [one["pages"] for one in truth]
    assert {one.type for one in found} == {"invoice"}


def test_each_sample_is_told_by_the_others() -> None:
    found = sorted_samples(Taught(TWO))
    assert [one.right for one in found] == [True] * 8
    swapped = Classifier(types=(of_type("waste", *BERTHS, CALLS[0]), of_type("pilot", *CALLS, *CALLS)))
    wrong = [one for one in sorted_samples(Taught(swapped)) if not one.right and one.beside]
    assert [(one.type, one.number) for one in wrong] == [("waste", 2)]
    assert wrong[0].beside and wrong[0].beside[0] == "pilot" and "“pilot”" in wrong[0].common


def test_scores_without_a_sample_win_as_those_of_a_fit_without_it() -> None:
    whole = Taught(TWO)
    for number, (kind, at) in enumerate((kind, at) for kind in range(2) for at in range(4)):
        one = TWO.types[kind]
        fewer = one.model_copy(update={"samples": tuple(s for place, s in enumerate(one.samples) if place != at)})
        rest = Taught(Classifier(types=tuple(fewer if t is one else t for t in TWO.types)))
        pages = one.samples[at].pages
        refit = rest.scores(rest.place(document_bag(pages)), pages)
        assert refit.argmax() == whole.fit.without[number].argmax() == kind
        assert np.abs(refit - whole.fit.without[number]).max() < 0.2


@given(st.lists(st.floats(-6, 6), min_size=1, max_size=9), st.integers(0, 5000))
def test_the_best_cut_is_no_worse_than_any_other(joined_: list[float], seed: int) -> None:
    chance = np.random.default_rng(seed)
    count = len(joined_) + 1
    first, following = (np.log(chance.dirichlet(np.ones(3), count)) for _ in range(2))
    odds = np.array(joined_)
    found = best_cut(first, following, odds)

    def worth(begins: int) -> float:
        starts = [0, *(at for at in range(1, count) if begins >> (at - 1) & 1), count]
        total = sum(
            -np.log1p(np.exp(odds[at - 1] if begins >> (at - 1) & 1 else -odds[at - 1])) for at in range(1, count)
        )
        return float(total) + sum(
            max(first[a, kind] + following[a + 1 : b, kind].sum() for kind in range(3))
            for a, b in itertools.pairwise(starts)
        )

    best = max(worth(begins) for begins in range(1 << (count - 1)))
    mine = sum(1 << (at - 1) for at in found.starts[1:])
    assert worth(mine) == pytest.approx(best, abs=1e-6)


def test_pages_say_which_they_are() -> None:
    one, two = (
        typed("-\n-\n-\nReport 4711-22\nPage 1 of 2\nWe saw"),
        typed("-\n-\n-\nmore of it 4711-22\nPage 2 of 2\nEnd."),
    )
    facts = facts_between(ties_of(one), ties_of(two))
    assert facts["counts_on"] == 1 and facts["numbers_shared"] == 1 and facts["opens_inside"] == 1
    back = facts_between(ties_of(two), ties_of(one))
    assert back["says_first"] == 1 and back["before_last"] == 1 and back["counts_on"] == -1


def test_what_papers_are_called_carries_over_to_other_languages() -> None:
    assert "delivery_note" in concepts_in(("lieferschein", "nr", "00")) & concepts_in(("bon", "de", "livraison"))
    assert "contract" in concepts_in(("lizenzvertrag",))
    assert "minutes" not in concepts_in(("five", "minutes", "later")), "a word of many meanings, in running text"
    assert "minutes" in concepts_in(("minutes",), standing_out=True)


def of_words(**cues: str) -> Classifier:
    return Classifier(
        types=tuple(of_type(key, cues=({"words": (text,), "weight": "much"},)) for key, text in cues.items())
    )


def told(classifier: Classifier, text: str) -> tuple[str, str]:
    pages = [sketch_of(typed(text))]
    found = decide(Taught(classifier), document_bag(pages), pages)
    return found.type, found.state


def test_words_alone_tell_types_and_clashes() -> None:
    three = of_words(invoice="invoice", delivery="delivery note", order="purchase order")
    assert told(three, "Invoice 4711\nPlease pay") == ("invoice", "sure")
    assert told(three, "Purchase 0rder\nPlease deliver")[0] == "unknown", "a short word is not garbled"
    assert told(three, "Delivery note 3\nThe invoice follows")[1] == "check", "both say so"
    assert told(three, "Poem\nThe quay is wet")[0] == "unknown"
    shown = Classifier(types=tuple(
        one.model_copy(update={"samples": (sample(text),)})
        for one, text in zip(three.types, ("Invoice 1", "Delivery note 2\nInvoice follows", "Order 3"), strict=True)
    ))  # fmt: skip
    clash = [fault for fault in faults_of(shown) if "too." in fault]
    assert len(clash) == 1 and "1 of 1 samples of delivery" in clash[0]


def test_cues_are_looked_for_where_they_must_stand() -> None:
    head, foot = "Waste receipt", "-\n" * 55 + "Waste receipt"
    pages = [[sketch_of(typed(text))] for text in (head, foot)]
    at_top, at_foot = (Cue(words=("waste receipt",), where=where) for where in ("top", "foot"))
    assert [bool(at_top.found(one)) for one in pages] == [True, False]
    assert [bool(at_foot.found(one)) for one in pages] == [False, True]
    assert Cue(words=("confirmation",)).found([sketch_of(typed("conf1rmation"))]) == "confirmation", "as OCR garbles it"
    against = (
        of_words(invoice="invoice")
        .types[0]
        .model_copy(
            update={
                "cues": (Cue(words=("invoice",), weight="much"), Cue(words=("copy",), speaks="against", weight="much"))
            }
        )
    )
    assert told(Classifier(types=(against,)), "Invoice\nCopy")[0] == "unknown"


def test_a_sentence_tells_a_type_without_samples() -> None:
    said = "a letter in which an insurer confirms that a vessel is covered, and up to what sum"
    taught = Classifier(types=(*TWO.types, of_type("cover", description=said)))
    letter = (
        "Dear harbour master\nwe confirm that the vessel is insured with us.\nThe cover holds up to a sum of 2 000 000."
    )
    assert told(taught, letter) == ("cover", "check"), "known, but to be confirmed"
    assert told(taught, "Waste receipt 9\nPlastics 1.2\nReceived at quay 4")[0] == "waste"


EMPTY = PageSketch(words=(), shape=(0.0,) * 24, picture="0" * 192)


def test_what_cannot_work_is_said() -> None:
    twins = Classifier(types=(of_type("one", *BERTHS), of_type("other", *BERTHS)))
    everything = of_type("pilot", *CALLS, cues=({"words": ("e",)},))
    alone = Classifier(types=(of_type("one", BERTHS[0]), of_type("none"), everything))
    assert any("have the same samples" in fault for fault in faults_of(twins))
    assert any("one sample only" in fault for fault in faults_of(alone))
    assert any("no samples, no cues" in fault for fault in faults_of(alone))
    fits_all = Cue(words=("receipt", "ticket"))
    both = Classifier(types=(TWO.types[0].model_copy(update={"cues": (fits_all,)}), TWO.types[1]))
    assert any("fits every sample of every type" in fault for fault in faults_of(both))
    assert decide(Taught(TWO), bag_of_page(EMPTY), [EMPTY]).type == "unknown"
    assert "no types" in faults_of(Classifier())[0]


@pytest.mark.parametrize(
    ("text", "problem"),
    [
        ("{", "is not a classifier"), ('{"format": "other"}', "at format"),
        ('{"types": [{"key": "A B"}]}', "types → 1 → key"),
        ('{"types": [{"key": "a"}, {"key": "a"}]}', "two types have the key a"),
        ('{"types": [{"key": "a", "cues": [{"words": ["…"]}]}]}', "a cue needs a word"),
        ('{"types": [{"key": "a", "samples": [{"name": "s", "pages": []}]}]}', "samples → 1 → pages"),
    ],
)  # fmt: skip
def test_a_file_with_wrong_parts_says_which(text: str, problem: str) -> None:
    with pytest.raises(Unreadable, match=problem.replace("→", ".")):
        read_classifier(text.encode(), "mine.json")


def test_a_classifier_survives_its_file() -> None:
    cued = Classifier(types=(*TWO.types, *of_words(invoice="invoice").types))
    assert read_classifier(written(cued).encode(), "c.json") == cued
    assert not any(figure in written(TWO) for figure in ("4711", "2.4")), "figures do not travel"


def test_sheets_barcodes_and_recognition_in_one_pass() -> None:
    waste, pilot = (typed(texts[0].format(7)) for texts in (BERTHS, CALLS))
    pile = [waste, pilot, side("PAIL/DOC/crew-list"), pilot, waste, side("PAIL/DOC"), pilot, BLANK, waste]
    cut = sort_pile(pile, Separation(documents=AtRecognised(), blank_pages="left_out"), Taught(TWO))
    assert [one.pages for one in cut.split.documents] == [(0,), (1,), (3, 4), (6,), (8,)]
    assert cut.split.documents[2].type == "crew-list" and cut.sorted[2] is None, "what a sheet says is not asked again"
    assert [one and one.decision.type for one in cut.sorted] == ["waste", "pilot", None, "pilot", "waste"]
    assert {left.page for left in cut.split.left_out} == {2, 5, 7}
    plain = sort_pile([side("PAIL/DOC"), pilot, waste], Separation(documents=AtPrintedSheet()), Taught(TWO))
    assert [one.pages for one in plain.split.documents] == [(1, 2)], "cut by sheets alone, and told what it is"
    at_codes = Separation(documents=AtRecognised(begins_with="CALL"))
    coded = waste.model_copy(update={"barcodes": side("CALL-7").barcodes})
    assert [one.pages for one in sort_pile([pilot, coded], at_codes, Taught(TWO)).split.documents] == [(0,), (1,)]


def test_sketches_are_small_and_without_figures() -> None:
    read: PageReading = typed("Total 1 234.50 EUR\nÀ payer: 17.03.2026")
    told_ = sketch_of(read)
    assert told_.words[:4] == ("total", "0", "000", "00") and "payer" in told_.words and "a" in told_.words
    bag = joined([bag_of_page(told_), bag_of_page(told_)])
    assert bag.tokens["words"]["payer"] == pytest.approx(1.5)


def test_measuring_a_folder_tells_what_was_wrong(tmp_path: Path) -> None:
    taught, _ = board()
    for key, name in (
        ("waste-receipt", "waste-receipt-2.tif"),
        ("unknown", "cover-page-2.tif"),
        ("cover-page", "cover-page-3.tif"),
    ):
        (tmp_path / key).mkdir()
        source = next(BINDERS.rglob(name))
        (tmp_path / key / name).write_bytes(source.read_bytes())
    (tmp_path / "cover-page" / "broken.pdf").write_bytes(b"%PDF-1.7 nothing")
    measure = evaluate_classifier(tmp_path, taught.classifier)
    assert measure.confusion["waste-receipt", "waste-receipt"] == 1 and measure.documents == 3
    assert measure.misses == ["unknown/cover-page-2.tif: cover-page instead of unknown"]
    report = class_report(measure)
    assert "2 of 3 (21%–94%) documents right" in report and "not read: cover-page/broken.pdf" in report
    with pytest.raises(Unreadable, match="no sub-folder with samples"):
        sample_files(tmp_path / "waste-receipt")


def test_papers_of_one_kind_look_alike_in_any_language() -> None:
    receipts = [
        "Receipt 4711\nTotal 12.50\nThank you",
        "Quittung 88\nSumme 7,90\nVielen Dank",
        "Ricevuta 3\nTotale 5,00\nGrazie",
    ]
    verse = "The quay is wet, the gulls are late,\na rope lies coiled beside the gate,\nand all the masts leaned"
    english, german, italian, poem = (look_of(document_bag([sketch_of(typed(text))])) for text in (*receipts, verse))
    for look in (english, german, italian, poem):
        assert float(look @ look) == pytest.approx(1, abs=1e-4)
    nearest_stranger = max(float(one @ poem) for one in (english, german, italian))
    assert min(float(english @ german), float(english @ italian)) > nearest_stranger


def test_numbered_pages_look_like_what_they_say() -> None:
    first = "INVOICE\nInvoice number 4711\nDate 3 March 2026\nBill to Quillon Harbour Board"
    second = "carried forward 120.00\nRope 12 mm 40.00\nShackle 8.00\nTotal 168.00"
    seen = seen_of([document_bag([sketch_of(typed(text))]) for text in (first, second)])
    assert seen[0].first > seen[1].first and seen_of([]) == []
