"""By what words a text is found again."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zestpail.core.reading.search_words import LAST_PLACE, MOST_PLACES, placed, vector


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("Möwenbek Straße", {"mowenbek", "strasse"}),
        ("RE-40-0420", {"re400420", "re", "40", "0420"}),
        ("12.125,82", {"1212582", "12", "125", "82"}),
        ("12 125,82", {"1212582", "12", "125", "82"}),
        ("1 234 567 kg", {"1234567", "234567", "1", "234", "567", "kg"}),
        ("— · …", set()),
    ],
)
def test_words_are_found_without_case_accents_and_separators(text: str, found: set[str]) -> None:
    assert found <= {word for word, _ in placed(text)}
    assert all(word.isalnum() for word, _ in placed(text))


def test_words_that_stand_together_are_neighbours_over_hyphens_too() -> None:
    places = dict(placed("anti-fouling paint"))
    assert (places["anti"], places["fouling"], places["paint"], places["antifouling"]) == (1, 2, 3, 1)
    assert vector(["a b", "a"]) == "'a':1,4 'b':2", "texts do not touch each other"


def test_a_text_of_more_words_than_can_be_held_keeps_those_that_come_first() -> None:
    entries = vector([" ".join(f"w{number}" for number in range(200_000)), "last"]).split(" ")
    held = sum(len(entry.partition(":")[0]) + 10 for entry in entries)
    assert 20_000 < len(entries) < 200_000 and held < 1_048_575 and entries[0] == "'w0':1"


@given(st.lists(st.text(max_size=300), max_size=6))
def test_any_text_makes_a_vector_that_holds_what_can_be_held(texts: list[str]) -> None:
    for entry in filter(None, vector(texts).split(" ")):
        word, _, places = entry.rpartition(":")
        numbers = [int(number) for number in places.split(",")]
        assert word[1:-1].isalnum() and len(numbers) <= MOST_PLACES and max(numbers) <= LAST_PLACE
