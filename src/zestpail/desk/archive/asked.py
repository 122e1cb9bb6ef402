"""What somebody types into the archive's search, as a query of the full-text index.

Words must all be there; ``paint*`` is what begins so, ``*2041*`` what has it inside, ``"two words"`` what stands
together. Numbers and codes are found however they are grouped.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from zestpail.core.reading.misread_words import LEAST_LETTERS
from zestpail.core.reading.search_words import LONGEST, parts_of

_TERMS = re.compile(r'"([^"]+)"|(\S+)')
_CODE, _YEAR = re.compile(r"\d+(?:[-/]\d+)+"), re.compile(r"(?:19|20)\d\d")
_GROUPED = re.compile(r"\d{1,3}(?: \d{3})+(?:[.,]\d{1,3})?(?!\S)")


@dataclass(frozen=True)
class Term:
    """One thing that must be there."""

    parts: tuple[str, ...]
    begins: bool = False
    """Whether more may follow the last part."""
    inside: bool = False
    """Whether it may stand within a word."""
    together: bool = False
    """Whether it was set in quotation marks: nothing but itself is meant."""
    coded: bool = False
    """Whether it is a code in groups of figures, which may stand within a longer one: 40-0420 in RE-40-0420."""

    @cached_property
    def whole(self) -> str:
        return "".join(self.parts)

    @property
    def can_be_misread(self) -> bool:
        """Whether words that are like it may be meant."""
        return not (self.together or self.begins) and LEAST_LETTERS <= len(self.whole) <= LONGEST


def terms_of(asked: str) -> list[Term]:
    """What must be there."""
    grouped = _GROUPED.sub(lambda number: number[0].replace(" ", ""), " ".join(asked.split()))
    found = []
    for quoted, word in _TERMS.findall(grouped):
        parts = tuple(part for one in (quoted or word).split() for part in parts_of(one))
        if parts:
            inside = word.startswith("*")
            found.append(Term(parts, word.endswith("*") and not inside, inside, bool(quoted), _is_code(word, parts)))
    return found


def _is_code(word: str, groups: Sequence[str]) -> bool:
    """Not a day or a month, whose groups stand everywhere: looking for them in turn would take long."""
    return bool(_CODE.fullmatch(word)) and any(len(one) > 3 and not _YEAR.fullmatch(one) for one in groups)


def query_of(terms: Sequence[Term], others: Mapping[str, Sequence[str]]) -> str:
    """The query in the language of the index; ``others`` are, by term, words of the archive that may be meant too."""
    return " & ".join(f"({_one(term, others.get(term.whole, ()))})" for term in terms)


def _one(term: Term, others: Sequence[str]) -> str:
    star = ":*" if term.begins else ""
    *first, last = (f"'{part}'" for part in term.parts)
    # A number with separators stands in the index as one word: looking for its groups in turn would take long.
    number = len(term.parts) > 1 and term.whole.isdigit() and len(term.whole) <= LONGEST
    as_one = number and not (term.together or term.coded)
    ways = [] if as_one else [" <-> ".join([*first, last + star])]
    if len(term.parts) > 1 and len(term.whole) <= LONGEST and not term.together:
        ways.append(f"'{term.whole}'{star}")
    if term.whole.isdigit() and len(term.parts) == 1 and len(term.whole) > 2:
        ways.append(f"'{term.whole}00'")  # an amount whose cents nobody remembers
    return " | ".join([*ways, *(f"'{word}'" for word in others)])
