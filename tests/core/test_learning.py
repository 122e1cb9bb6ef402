"""The judge: what it is told of a candidate, how its trees are asked, and what becomes of a choice by its odds."""

from __future__ import annotations

import math
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.paper import document, page
from zestpail.core.document_type import load_type
from zestpail.core.extraction.choose import choose
from zestpail.core.extraction.extract import surroundings_of
from zestpail.core.extraction.familiarity import unlike_known
from zestpail.core.finders import Candidate, SearchContext
from zestpail.core.landmarks.labels import Label
from zestpail.core.learning.amounts import Amounts
from zestpail.core.learning.forest import Forest, averaged
from zestpail.core.learning.judge import judged
from zestpail.core.reading.geometry import Box

STUMP = Forest(
    features=("near", "label"), base=-1.0, roots=(0, 3), feature=(1, -1, -1, -1), threshold=(0.5, -2.0, 3.0, 0.25),
    left=(1, 0, 0, 0), right=(2, 0, 0, 0), unknown_left=(True, False, False, False),
)  # fmt: skip
"""Two trees: one asks for the label, the other says the same of all."""


def test_a_forest_adds_up_what_its_trees_say() -> None:
    odds = STUMP.log_odds([{"label": 0.9}, {"label": 0.5, "near": 1.0}, {"near": 1.0}, {"other": 9.0}])
    assert odds.tolist() == [2.25, -2.75, -2.75, -2.75]


INVOICE = load_type("supplier-invoice")
PAPER = """
Bight & Bollard Ltd
1 Quay Road
Quillon QX1 4HB

Invoice no. BB-20418           Date 03.09.2026

Description        Quantity   Unit price    Total
Rope                      2       418.50   837.00
Fender                    6        64.00   384.00

                         Net            1,221.00
                         VAT 20 %         244.20
                         Total due      1,465.20
"""


def test_forests_together_say_the_mean_of_what_each_says() -> None:
    other = Forest(
        features=("rank", "near"), base=0.5, roots=(0,), feature=(1, -1, -1), threshold=(0.2, 1.0, -1.0),
        left=(1, 0, 0), right=(2, 0, 0), unknown_left=(False, False, False),
    )  # fmt: skip
    rows = [{"near": 0.1}, {"near": 0.9, "label": 1.0}, {}]
    both = (STUMP.log_odds(rows) + other.log_odds(rows)) / 2
    assert averaged([STUMP, other]).log_odds(rows) == pytest.approx(both)


def test_what_is_known_of_an_amount() -> None:
    surroundings = surroundings_of(SearchContext(document(page(PAPER)), INVOICE.labels), INVOICE)
    totals = surroundings.options["grand_total"]
    facts = dict(zip((c.value for c in totals), surroundings.of_field(INVOICE.field("grand_total")), strict=True))
    whole, net = facts["1465.20"], facts["1221.00"]
    assert [whole[fact] for fact in ("amount_rank", "is_whole", "with_its_tax", "role_whole")] == [1.0] * 4
    assert (net["is_part"], net["rows_sum"], net["has_share"]) == (1.0, 1.0, 1.0)
    assert whole["rows_sum"] == 0.0 and whole["under_a_row"] == 0.0
    assert whole["fact_whole_cell"] == 1.0


def test_the_judge_puts_the_total_before_every_other_amount() -> None:
    surroundings = surroundings_of(SearchContext(document(page(PAPER)), INVOICE.labels), INVOICE)
    best, *others = judged(surroundings, INVOICE.field("grand_total"))
    assert best.value == "1465.20"
    assert best.likely is not None and best.likely > 0.9
    assert all(other.likely is not None and other.likely < 0.5 for other in others if other.value != best.value)


@given(st.lists(st.decimals(min_value=1, max_value=9999, places=2), min_size=2, max_size=5, unique=True))
def test_a_sum_of_two_is_known_as_their_whole(values: list[Decimal]) -> None:
    one, other = values[:2]
    amounts = Amounts((*values, one + other), ())
    assert amounts.facts(one + other)["is_whole"] == float(one != other)
    assert amounts.facts(one)["is_part"] == 1.0
    assert amounts.facts(max(*values, one + other))["amount_rank"] == 1.0


def test_a_paper_on_which_most_of_what_must_be_there_is_unsure_is_unlike_the_known() -> None:
    needed = ("a", "b", "c", "d")
    assert unlike_known({"a": 0.99, "b": 0.5, "c": 0.6}, needed), "d is missing"
    assert not unlike_known({"a": 0.99, "b": 0.95, "c": 0.8}, needed)
    assert not unlike_known({}, ("a", "b")), "too few to tell"


def test_a_changed_copy_of_a_type_has_labels_of_its_own() -> None:
    assert INVOICE.labels
    assert INVOICE.model_copy(update={"fields": (), "other_labels": ("x",), "other_meanings": ()}).labels == (
        Label("x", None),
    )


def one(value: str, likely: float, x: float = 0.0) -> Candidate:
    return Candidate(
        value=value, raw=value, page=0, box=Box(x, 0, x + 5, 5), confidence=1.0, finder="pattern", parts={},
        likely=likely, reason="",
    )  # fmt: skip


def test_what_is_chosen_by_odds_says_how_likely_it_is() -> None:
    chosen = choose({"a": (one("1", 0.8), one("2", 0.5, 9))}, ())
    assert chosen.picks["a"] is not None and chosen.picks["a"].value == "1"
    assert chosen.shares["a"] == pytest.approx(4 / (4 + 1 + 0.05 * 4), abs=0.001)
    nothing = choose({"a": (one("1", 0.01),)}, ())
    assert nothing.picks["a"] is None, "what is hardly ever right is left empty"
    assert math.isclose(choose({"a": ()}, ()).shares["a"], 1.0)


def test_the_same_name_in_other_letters_is_no_rival() -> None:
    twice = choose({"a": (one("HALLIG KG", 0.8), one("Hallig KG", 0.7, 9))}, ())
    other = choose({"a": (one("HALLIG KG", 0.8), one("Wattmann KG", 0.7, 9))}, ())
    assert twice.shares["a"] > 0.95 > other.shares["a"]


def test_what_the_file_says_of_itself_is_told_to_the_judge() -> None:
    made = page("Tidewrack Services\n7 Hard Lane\n24103 Emsworth\n\nInvoice no. 77021").model_copy(
        update={"author": "tidewrack services", "title": "Invoice 77021"}
    )
    context = SearchContext(document(made), INVOICE.labels, INVOICE.landmarks)
    around = surroundings_of(context, INVOICE)
    sellers = zip(around.options["seller_name"], around.of_field(INVOICE.field("seller_name")), strict=True)
    assert {c.value: known["author"] for c, known in sellers}["Tidewrack Services"] == 1.0
    numbers = zip(around.options["invoice_number"], around.of_field(INVOICE.field("invoice_number")), strict=True)
    assert {c.value: known["title"] for c, known in numbers}["77021"] == 1.0
