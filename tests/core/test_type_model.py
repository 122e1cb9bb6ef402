"""What samples teach of papers whose layout nobody taught: choosing among candidates, and leaving places to others."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.paper import document, page
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.document_type.learned import TaughtSpot
from zestpail.core.extraction.extract import extract
from zestpail.core.finders import SearchContext
from zestpail.core.kinds import Amount, AnyKind, Code, Date, Firm
from zestpail.core.kinds.kind import Span
from zestpail.core.learning.choice import Choice, fitted, shares, table_of
from zestpail.core.learning.claims import settled
from zestpail.core.learning.labelled import Label, LabelledDocument
from zestpail.core.learning.offers import offers_of
from zestpail.core.learning.spots import likeness
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.lines import line_of_text
from zestpail.core.teaching.learn import learn

numbers = st.floats(-3, 3, allow_nan=False)
rows = st.lists(st.lists(numbers, min_size=3, max_size=3), min_size=2, max_size=7)


@st.composite
def choices(draw: st.DrawFn) -> list[Choice]:
    made = []
    for table in draw(st.lists(rows, min_size=1, max_size=6)):
        right = np.zeros(len(table), bool)
        right[draw(st.integers(0, len(table) - 1))] = True
        made.append(Choice(np.array(table), right))
    return made


def worth(several: list[Choice], weights: np.ndarray, held: float) -> float:
    likely = sum(float(np.log((shares(one.table, weights) * one.right).sum())) for one in several)
    return likely - held / 2 * float((weights**2).sum())


@given(choices(), st.floats(0.05, 20))
def test_what_is_right_becomes_likelier_and_nothing_is_likelier_still(several: list[Choice], held: float) -> None:
    start = np.zeros(3)
    weights = fitted(several, start, np.full(3, held))
    best = worth(several, weights, held)
    assert best >= worth(several, start, held) - 1e-9
    for step in np.vstack([np.eye(3), -np.eye(3)]) * 0.05:
        assert worth(several, weights + step, held) <= best + 1e-4, "it is the top of a hill with one top"
    assert all(shares(one.table, weights).sum() == pytest.approx(1) for one in several)


def test_weights_stay_where_they_are_held() -> None:
    choice = Choice(
        table_of(["near", "none"], [{"near": 1.0}, {"near": 0.0}], {"none": 1.0}), np.array([False, True, False])
    )
    start = np.array([2.0, 0.5])
    loose, firm = (fitted([choice] * 4, start, np.full(2, held)) for held in (0.1, 1e6))
    assert firm == pytest.approx(start, abs=1e-3)
    assert loose[0] < 0 < start[0], "what is right is far"
    assert shares(choice.table, loose)[1] > 0.8 > shares(choice.table, firm)[1]


def spans(*texts: str) -> list[Span]:
    line = line_of_text("\t".join(texts))
    starts = [line.text.index(text) for text in texts]
    return [Span(line, at, at + len(text), text, 1.0) for at, text in zip(starts, texts, strict=True)]


def test_a_place_is_left_to_the_field_that_claims_it_more_surely() -> None:
    places = spans("4 March", "3 April", "9 June")
    begins, ends = np.array([0.7, 0.2, 0.05, 0.05]), np.array([0.5, 0.4, 0.05, 0.05])
    left = settled({"begins": begins, "ends": ends}, {"begins": places, "ends": places}, ())
    assert left["begins"].argmax() == 0
    assert left["ends"].argmax() == 1
    assert all(one.sum() == pytest.approx(1) for one in left.values())
    alone = settled({"ends": ends}, {"ends": places}, ())
    assert alone["ends"] == pytest.approx(ends)


def test_two_parties_are_not_one_wherever_its_name_stands() -> None:
    here, there = spans("Osprey Ltd", "Tern AB"), spans("Osprey Ltd", "Tern AB")
    away = [Span(line_of_text(f"{'x' * 200} {one.value}"), 201, 201 + len(one.value), one.value, 1.0) for one in there]
    shares_of = {"seller": np.array([0.9, 0.05, 0.05]), "buyer": np.array([0.5, 0.4, 0.1])}
    by_place = settled(shares_of, {"seller": here, "buyer": away}, ())
    by_value = settled(shares_of, {"seller": here, "buyer": away}, ("seller", "buyer"))
    assert by_place["buyer"].argmax() == 0
    assert by_value["buyer"].argmax() == 1


def test_a_spot_is_like_itself_and_less_like_others_the_further_it_is() -> None:
    spot = TaughtSpot(page=0, pages=1, x=0.2, y=0.3, rank=1, of=4, size=0.5, side="left", traits={"is_whole": 1.0})
    assert set(likeness(spot, [spot, spot]).values()) == {1.0}
    near, far = spot.model_copy(update={"y": 0.33}), spot.model_copy(update={"y": 0.8, "rank": 3})
    assert likeness(near, [spot])["place"] > 0.5
    assert likeness(far, [spot])["place"] < 0.01
    assert likeness(far, [spot])["rank"] == 0 < likeness(far, [spot])["rank_near"] < 1
    assert likeness(spot, [spot, far])["rank"] == 0.5, "what samples do not agree on counts half"
    assert likeness(spot, []) == {}


LETTERS = """
{first}
12 Quay Road
{second}
Our reference {number}
We let to you the place that you know of from {begins} and until {ends}
for which you pay {fee}
"""
FORM = """
Agreement {number}
Owner       {first}
User        {second}
Beginning   {begins}
Ending      {ends}
To be paid  {fee}
"""
SHEET = """
Contract        {number}
Parties         {first}
                {second}
Time            {begins} to {ends}
Charge          {fee}
Nothing else was agreed by the two parties of this contract
"""
KINDS: dict[str, AnyKind] = {
    "number": Code(), "first": Firm(), "second": Firm(), "begins": Date(), "ends": Date(), "fee": Amount(),
}  # fmt: skip
VALUES = (
    {"number": "AK-2041", "first": "Quillon Harbour Ltd", "second": "Osprey Charter Ltd", "begins": "4 March 2026",
     "ends": "3 March 2027", "fee": "4,180.00"},
    {"number": "AK-3377", "first": "Estrel Basin Ltd", "second": "Tidewell Joinery Ltd", "begins": "1 May 2026",
     "ends": "30 April 2027", "fee": "920.00"},
    {"number": "AK-9120", "first": "Southwall Moorings Ltd", "second": "Verrin Towage Ltd", "begins": "9 June 2026",
     "ends": "8 June 2028", "fee": "7,590.00"},
)  # fmt: skip
TRUTHS = tuple(
    values | {"begins": begins, "ends": ends, "fee": fee}
    for values, (begins, ends, fee) in zip(
        VALUES, (("2026-03-04", "2027-03-03", "4180.00"), ("2026-05-01", "2027-04-30", "920.00"),
                 ("2026-06-09", "2028-06-08", "7590.00")), strict=True,
    )
)  # fmt: skip


def paper(form: str, at: int) -> DocumentReading:
    return document(page(form.format(**VALUES[at])))


def test_a_layout_that_nobody_taught_is_read_by_what_the_samples_have_in_common() -> None:
    """No label of the sheet stands on a sample: what counts is kinds, order, looks, and one place for one field."""
    doc_type = DocumentType(
        key="agreement", name="Agreement",
        fields=tuple(FieldRule(key=key, name=key.title(), kind=kind, finders=()) for key, kind in KINDS.items()),
    )  # fmt: skip
    samples = [
        LabelledDocument(f"{at}.pdf", paper(form, at), {key: Label(value) for key, value in TRUTHS[at].items()})
        for at, form in enumerate((LETTERS, FORM))
    ]
    taught = learn(doc_type, samples).doc_type
    again = learn(doc_type, samples).doc_type
    assert taught.model_dump_json() == again.model_dump_json(), "the same samples teach the same"
    found = {value.key: value for value in extract(paper(SHEET, 2), taught).values}
    assert {key: value.value for key, value in found.items()} == TRUTHS[2]
    assert all(value.reason.startswith("as on other samples") for value in found.values())
    assert DocumentType.model_validate_json(taught.model_dump_json()) == taught, "it travels as plain data"


def test_what_is_offered_says_where_it_stands_among_its_like() -> None:
    offers = offers_of(SearchContext(paper(FORM, 0), ()))
    [begins, ends] = offers.of(Date())
    assert (begins.spot.rank, begins.spot.of, begins.spot.size, begins.around.label) == (0, 2, 0.0, "Beginning")
    assert (ends.spot.rank, ends.spot.size, ends.spot.side) == (1, 1.0, "left")
    assert begins.spot.y < ends.spot.y
    assert offers.of(Date()) is offers.of(Date()), "it is worked out once"
