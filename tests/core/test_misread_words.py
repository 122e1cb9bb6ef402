"""Words that may be one another misread: found by what stays of them, and the likest first."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zestpail.core.reading.misread_words import LEAST_LETTERS, likest, stubs

WORDS = st.text("abefghkmopqstuxy", min_size=LEAST_LETTERS + 1, max_size=18)
"""Of letters that no reader takes for others."""


@given(WORDS, st.randoms(use_true_random=False), st.sampled_from("abexy"))
def test_a_letter_more_less_other_or_two_changed_have_a_stub_in_common(
    word: str, chance: random.Random, letter: str
) -> None:
    at = chance.randrange(len(word) - 1)
    others = (
        word[:at] + letter + word[at + 1 :], word[:at] + letter + word[at:], word[:at] + word[at + 1 :],
        word[:at] + word[at + 1] + word[at] + word[at + 2 :],
    )  # fmt: skip
    for other in others:
        assert set(stubs(word)) & set(stubs(other)), other


@given(WORDS)
def test_stubs_are_few_numbers_that_the_database_takes(word: str) -> None:
    found = stubs(word)
    assert 1 <= len(found) <= len(word) + 1 and found == sorted(set(found))
    assert all(-(2**31) <= one < 2**31 for one in found)


@pytest.mark.parametrize(("read", "meant"), [
    ("rnooring", "mooring"), ("wharfage", "vvharfage"), ("tarpau1in", "tarpaulin"), ("c1eat", "cleat"),
    ("fender", "fendcr"), ("re4oo42o", "re400420"), ("schiffsbedraf", "schiffsbedarf"),
])  # fmt: skip
def test_what_readers_confuse_is_found_and_told(read: str, meant: str) -> None:
    assert set(stubs(read)) & set(stubs(meant))
    assert likest(read, [meant, read, "bollard"], 3) == [meant]


def test_another_number_is_another_number_and_short_words_are_themselves() -> None:
    assert not set(stubs("2026001")) & set(stubs("2026002")) and likest("2026001", ["2026011"], 3) == ["2026011"]
    assert stubs("tax") == []
    assert likest("rope", ["ropes", "robe", "hope", "slope", "ropewalk"], 2) == ["hope", "robe"]
