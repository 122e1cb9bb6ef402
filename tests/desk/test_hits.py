"""Where on a page the words of a search stand: told quickly for one, and thoroughly for all."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from zestpail.desk.archive.asked import query_of, terms_of
from zestpail.desk.archive.hits import first_hit, hits, may_stand, without_separators

WORDS = (
    "RE-40-0420", "re400420", "40", "0420", "RE", "12 125,82", "12.125,82", "1212582", "125,82", "500", "500.00",
    "50000", "Anti-Fouling", "fouling", "paint.", "Farbe", "größe", "GROSSE", "—", "A/B", "a", "b", "0420-7",
)  # fmt: skip
ASKED = (
    "RE-40-0420", "*420*", "0420", "1212582", "12 125,82", "500", "anti-foul*", "foul*", '"anti fouling paint"',
    "grosse", "*b*", "a/b", "re40*", "40-0420", '"fouling paint"', '"40 0420"',
)  # fmt: skip
_TEXTS = st.lists(st.sampled_from(WORDS), max_size=12).map(" ".join)
_MEANT = st.lists(st.sampled_from(["fouling", "re400420", "40", "1212582"]), max_size=3)


@given(_TEXTS, st.sampled_from(ASKED), _MEANT)
def test_the_first_hit_is_the_first_of_all(text: str, asked: str, meant: list[str]) -> None:
    words = text.split()
    for term in terms_of(asked):
        others = {term.whole: meant}
        everywhere = hits(words, [term], others)
        assert first_hit(words, term, others) == (everywhere[0] if everywhere else None)
        assert may_stand(without_separators(text), term, others) or not everywhere


def test_what_is_marked() -> None:
    words = ["An", "invoice", "RE-40-0420", "of", "12", "125,82", "for", "anti-fouling", "paint"]
    for asked, marked in {
        "re400420": [2], "0420": [2], "40-0420": [2], "12.125,82": [4, 5], "*125*": [5], "anti-foul*": [7],
        "paint": [8], '"fouling paint"': [7, 8], '"invoice re"': [1, 2], "40-042": [], '"paint fouling"': [],
    }.items():  # fmt: skip
        assert hits(words, terms_of(asked), {}) == marked, asked
    assert hits(words, terms_of("pant"), {"pant": ["paint"]}) == [8], "what it is taken for"


def test_groups_of_figures_are_looked_for_in_turn_only_where_they_are_rare() -> None:
    for asked, query in {
        "40-0420": "('40' <-> '0420' | '400420')", "12.125,82": "('1212582')", "12 125,82": "('1212582')",
        "05-2026": "('052026')", "2026/0569": "('2026' <-> '0569' | '20260569')", "02.03.2026": "('02032026')",
    }.items():  # fmt: skip
        assert query_of(terms_of(asked), {}) == query, asked
