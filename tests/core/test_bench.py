"""What a person points at becomes a rule, what is wrong is offered a repair, and landmarks carry zones along."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.core.paper import document, page
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.evaluation.proof import Sample, prove, turns
from zestpail.core.extraction.extract import extract
from zestpail.core.finders import Area, BesideLabel, Expression, FixedPlace, Pattern, SearchContext, ValueProfile
from zestpail.core.finders.printed.fixed_place import similarity
from zestpail.core.kinds import Code, Date, OneLine, Quantity, Style
from zestpail.core.landmarks import PrintedWords, RuledLine
from zestpail.core.landmarks.match import ReferencePosition
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box, around
from zestpail.core.teaching.field_proposal import label_of, labels_of, propose_field, propose_landmark
from zestpail.core.teaching.repairs import repairs, repairs_for_none

NOTE = """
Outer Basin Fuel Quay
Delivery note

Ticket no.   FD-20418        Date  03.09.2026
Vessel
Marit of Quillon

Delivered    1.250 l
"""


def place(paper: DocumentReading, text: str) -> Box:
    words = text.split()
    found = [w for w in paper.pages[0].words if w.text in words]
    return around(w.box for w in found)


def of_type(*fields: FieldRule, landmarks: tuple[PrintedWords | RuledLine, ...] = ()) -> DocumentType:
    return DocumentType(key="note", name="Note", fields=fields, landmarks=landmarks)


def value(paper: DocumentReading, doc_type: DocumentType, key: str) -> str | None:
    return next(v.value for v in extract(paper, doc_type).values if v.key == key)


@pytest.mark.parametrize(
    ("text", "name", "kind", "direction"),
    [
        ("FD-20418", "Ticket no", Code(), "right"),
        ("03.09.2026", "Date", Date(), "right"),
        ("Marit of Quillon", "Vessel", OneLine(), "below"),
        ("1.250 l", "Delivered", Quantity(), "right"),
    ],
)
def test_a_click_proposes_a_field_that_finds_its_value_again(text: str, name: str, kind: Code, direction: str) -> None:
    paper = document(page(NOTE))
    rule = propose_field(paper, Style(decimal_mark=","), 0, place(paper, text), text, ())
    assert (rule.name, rule.kind) == (name, kind)
    assert isinstance(rule.finders[0], BesideLabel)
    assert rule.finders[0].directions == (direction,)
    assert value(paper, of_type(rule), rule.key) == kind.parse(text, Style(decimal_mark=","))


def test_a_wrong_sample_is_offered_repairs_and_their_effect_is_counted() -> None:
    first = document(page(NOTE))
    other = document(page(NOTE.replace("Ticket no.   FD-20418", "Docket       FD-977  ").replace("Date ", "Issued")))
    rule = propose_field(first, Style(), 0, place(first, "FD-20418"), "FD-20418", ())
    samples = [Sample(1, first, {rule.key: "FD-20418"}), Sample(2, other, {rule.key: "FD-977"})]
    before = prove(of_type(rule), samples)
    assert [before[at][rule.key].outcome for at in (1, 2)] == ["right", "missing"]
    offers = repairs(rule, other, Style(), 0, place(other, "FD-977"), "FD-977")
    assert offers[0].message == "also look beside “Docket”"
    after = prove(of_type(offers[0].rule), samples)
    assert turns(before, after, rule.key) == {"fixed": 1, "broken": 0, "changed": 0, "same": 1}
    anywhere = next(offer for offer in offers if "wherever it stands" in offer.message)
    assert turns(before, prove(of_type(anywhere.rule), samples))["fixed"] == 1


def test_the_printed_label_comes_first_and_a_shape_is_offered_for_codes_only() -> None:
    paper = document(page("Guest\nMaria Ferrer        Room 12    Adriatik Hotel"))
    box = place(paper, "Adriatik Hotel")
    rule = FieldRule(key="hotel", name="Hotel", kind=OneLine(), finders=(BesideLabel(labels=("Lodging",)),))
    offers = repairs(rule, paper, Style(), 0, box, "Adriatik Hotel")
    assert not any("shaped like" in offer.message for offer in offers)
    assert offers[-1].message == "else take what stands in this place on the page", "there is always something"
    assert value(paper, of_type(offers[-1].rule), "hotel") == "Adriatik Hotel"
    headed = document(page("Ref 77        Hotel\nGuest 12      Adriatik"))
    labels = [label.text for label in labels_of(headed, 0, place(headed, "Adriatik"))]
    assert labels == ["Hotel"], "what has figures is a value itself"
    near = document(page("Your name     Maria Ferrer"))
    assert repairs(rule, near, Style(), 0, place(near, "Maria Ferrer"), "Maria Ferrer")[0].message == (
        "also look beside “Your name”"
    )


def test_what_is_rightly_not_there_has_offers_too() -> None:
    paper = document(page(NOTE.replace("Ticket no.   FD-20418", "Note         FD-20418")))
    beside = BesideLabel(labels=("Ticket no.",), directions=("right", "below"))
    rule = FieldRule(key="t", name="Ticket", kind=Code(), finders=(beside, Pattern(weight=0.5)))
    samples = [Sample(1, paper, {"t": None})]
    before = prove(of_type(rule), samples)
    assert before[1]["t"].outcome == "wrong"
    offers = {one.message: one.rule for one in repairs_for_none(rule)}
    assert {"take it only beside its labels", "do not look below its labels"} <= offers.keys()
    assert prove(of_type(offers["take it only beside its labels"]), samples)[1]["t"].outcome == "absent"


def test_the_only_date_of_a_letter_is_no_question() -> None:
    rule = FieldRule(key="d", name="Date", kind=Date(), finders=(Pattern(weight=0.3),))
    alone, two = document(page("Quillon, 3 March 2026\n\nDear Sirs")), document(page("3 March 2026\n5 April 2026"))
    (sure,), (unsure,) = (extract(one, of_type(rule)).values for one in (alone, two))
    assert (sure.confidence > 0.9, unsure.confidence < 0.9) == (True, True)
    assert sure.reason == "as the only date there is"


def test_looks_are_learned_from_examples_with_soft_edges() -> None:
    profile = ValueProfile(examples=("BB-20418", "BB-977"))
    assert profile.sentence == "shaped like BB-20418, 6 to 8 long"
    assert profile.parts("BB-1234") == {"looks": 1.0, "length": 1.0}
    longer, other = profile.parts("BB-123456789"), profile.parts("03.09.2026")
    assert 0 < longer["length"] < 1
    assert longer["looks"] == 1.0
    assert other["looks"] < 0.8
    paper = document(page("Order PO-11873-A\nNote   BB-55123\nDated 03.09.2026"))
    rule = FieldRule(key="n", name="N", kind=Code(), finders=(Pattern(weight=0.5),), profile=profile)
    assert value(paper, of_type(rule), "n") == "BB-55123"


def test_a_landmark_bounds_a_search_and_an_unfound_one_bounds_nothing() -> None:
    paper = document(page("Ref  AA-1001\nSummary\nRef  AA-2002"))
    words = propose_landmark(paper, 0, place(paper, "Summary"), "L1")
    assert isinstance(words, PrintedWords)
    assert words.sentence == "the words “Summary”; how alike: rather forgiving"
    under = FieldRule(key="r", name="R", kind=Code(), finders=(Pattern(),), within=Area(under="L1"))
    assert value(paper, of_type(under, landmarks=(words,)), "r") == "AA-2002"
    garbled = document(page("Ref  AA-1001\nSumrnary\nRef  AA-2002"))
    assert value(garbled, of_type(under, landmarks=(words,)), "r") == "AA-2002"
    without = document(page("Ref  AA-1001\nRef  AA-2002"))
    assert value(without, of_type(under, landmarks=(words,)), "r") == "AA-1001"
    near = SearchContext(document(page("Summa")), (), (words,)).landmark_matches("L1")
    assert SearchContext(document(page("Summa")), (), (words,)).landmark("L1") is None
    assert [words.taken(match) for match in near] == [False]


def test_a_ruled_line_is_pointed_at_and_found_again_though_shorter_and_lower() -> None:
    paper = document(page("Head\n\nFoot").model_copy(update={"rules": (Box(40, 62, 540, 63), Box(40, 700, 200, 701))}))
    line = propose_landmark(paper, 0, Box(299, 61, 301, 64), "L1")
    assert isinstance(line, RuledLine)
    assert line.sentence == "a ruled line across nearly the whole page, in its upper part"
    moved = document(page("Head\n\nFoot").model_copy(update={"rules": (Box(52, 90, 500, 91), Box(40, 700, 200, 701))}))
    seen = SearchContext(moved, (), (line,)).landmark("L1")
    assert seen
    assert seen.box.y0 == 90


@given(st.floats(-40, 40), st.floats(-40, 40), st.floats(0.8, 1.25), st.floats(-0.05, 0.05))
def test_a_zone_follows_shift_scale_and_skew(right: float, down: float, scale: float, turn: float) -> None:
    def moved(box: Box) -> Box:
        x, cy = box.x0, box.cy
        return Box(scale * x - turn * cy + right, 0, 0, 0)._replace(
            y0=turn * x + scale * cy + down, y1=turn * x + scale * cy + down, x1=scale * x - turn * cy + right
        )

    homes = [Box(50, 60, 50, 60), Box(400, 80, 400, 80), Box(60, 700, 60, 700)]
    there = similarity([(reference, moved(reference)) for reference in homes])
    zone = Box(300, 500, 300, 500)
    wanted = moved(zone)
    assert there.point(300, 500) == pytest.approx((wanted.x0, wanted.y0), abs=0.01)


def test_a_fixed_place_takes_what_stands_in_its_zone() -> None:
    paper = document(page("Stamp\n\n     TANK 7"))
    words = propose_landmark(paper, 0, place(paper, "Stamp"), "L1")
    assert words
    zone = ReferencePosition(box=place(paper, "TANK 7").grown(3))
    rule = FieldRule(key="t", name="T", kind=OneLine(), finders=(FixedPlace(zone=zone, held_to=("L1",)),))
    kind = of_type(rule, landmarks=(words,))
    assert value(paper, kind, "t") == "TANK 7"
    lower = document(page("Quay\n\n\n      Stamp\n\n           TANK 9"))
    assert value(lower, kind, "t") == "TANK 9"
    with pytest.raises(ValidationError, match="landmarks that are not there: L1"):
        of_type(rule)


def test_expressions_are_bounded() -> None:
    other = FieldRule(key="o", name="O", kind=Code(), finders=(Pattern(),))

    def rule(expression: str) -> DocumentType:
        return of_type(FieldRule(key="e", name="E", kind=Code(), finders=(Expression(expression=expression),)), other)

    assert value(document(page("No 17 and AB-12")), rule(r"[A-Z]{2}-(\d+)"), "e") == "12"
    with pytest.raises(ValidationError, match="fits an empty text"):
        rule(".*")
    with pytest.raises(ValidationError, match="not a valid pattern"):
        rule("(")
    slow, unharmed = extract(document(page("a" * 60 + " FD-17")), rule(r"(?:(?:a|aa)+)+c")).values
    assert (slow.value, unharmed.value) == (None, "FD-17")
    assert "takes too long on" in slow.doubt


def test_no_label_where_there_is_none() -> None:
    paper = document(page("FD-1"))
    assert label_of(paper, 0, place(paper, "FD-1")) is None
    rule = propose_field(paper, Style(), 0, place(paper, "FD-1"), "FD-1", ("field_1",))
    assert (rule.name, rule.key, isinstance(rule.finders[0], Pattern)) == ("Field 2", "field_2", True)
