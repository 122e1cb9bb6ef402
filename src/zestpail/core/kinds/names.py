"""Names: firms by their legal form or as a letterhead, and people by words with capitals."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import ClassVar, Literal

from zestpail.core.kinds.kind import Kind, Span
from zestpail.core.kinds.style import Style
from zestpail.core.reading.lines import Line, line_of_text

LEGAL_FORMS = (
    "GmbH & Co. KG", "GmbH & Co KG", "GmbH", "mbH", "AG", "KG", "OHG", "UG", "e.K.", "eG",
    "Ltd", "Ltd.", "Limited", "LLP", "LLC", "PLC", "plc", "Inc", "Inc.", "Corp", "Corp.",
    "SARL", "S.A.R.L.", "SAS", "S.A.S.", "SA", "S.A.", "SASU", "EURL", "SNC",
    "S.L.", "SL", "S.L.U.", "S.p.A.", "SpA", "S.r.l.", "Srl", "SRL",
    "B.V.", "BV", "N.V.", "NV", "V.O.F.", "Lda", "Lda.", "Unipessoal Lda",
    "s.r.o.", "a.s.", "v.o.s.", "AB", "A/S", "ApS", "AS", "Oy",
    "GbR", "KGaA", "e.V.", "Ltda", "Ltda.", "EIRELI", "Sp. z o.o.", "d.o.o.", "Kft.", "Zrt.", "Oyj", "ASA", "UAB",
    "SHPK", "Pty Ltd", "Pty. Ltd.", "Pvt. Ltd.", "Pvt Ltd", "Private Limited", "S.R.L.", "Sàrl", "S.à r.l.",
    "S. de R.L.", "S.A. de C.V.", "DAC", "CLG", "Co.", "Ky", "I/S", "HB", "Bt.", "Sp. k.", "Sp. j.", "sp. z o.o.",
    "sp. k.", "sp. j.", "spol. s r.o.", "SIA", "MB", "VšĮ", "OÜ", "A.Ş.", "Ltd. Şti.", "S.n.c.", "S.a.s.", "d.d.",
    "j.d.o.o.", "k.d.", "e.U.", "OG", "VOF", "BVBA", "CVBA", "Stichting", "S.C.", "SCA", "SCI", "GIE", "S.A.S. de C.V.",
)  # fmt: skip
_FORM = re.compile("|".join(rf"(?<!\w){re.escape(form)}(?!\w)" for form in sorted(LEGAL_FORMS, key=len, reverse=True)))
_FORMS = "|".join(re.escape(form).replace("l", "[lI1|]") for form in sorted(LEGAL_FORMS, key=len, reverse=True))
_PART = r"[A-ZÀ-ÖØ-ÞČŘŠŽ0-9][\w'’.-]*"
_FIRST = r"[A-ZÀ-ÖØ-ÞČŘŠŽ0-9][\w'’.-]+"
_JOIN = r"(?:&|\+|de|du|des|la|le|del|della|di|do|da|of|and|und|et|e|y|en|van|der|den|a|\([A-ZÀ-Þ][\w .-]{1,20}\))"
_NO_DATE = r"(?!\d{4}(?!\w)|\d{1,2}[./-](?: |\d))"
"""A date at the left of a name is no part of it."""
_ADDED = r"(?: \((?:haftungsbeschränkt|i\. ?G\.|i\. ?L\.)\))?"
"""What the law adds to a legal form in brackets: limited, being founded, being wound up."""
_WITH_FORM = re.compile(rf"(?<!\w){_NO_DATE}({_FIRST}(?: (?:{_PART}|{_JOIN})){{0,7}}),? ({_FORMS})({_ADDED})(?![\w])")
_CAPITALS = re.compile(rf"(?<!\w){_NO_DATE}{_FIRST}(?: (?:{_PART}|{_JOIN})){{1,6}}(?!\w)")
LETTERHEAD_SHAPE = 0.65
"""How well formed a name in capitals without a legal form is; set by hand."""


MOST_BEFORE = 4
"""Words of a name before the first one that could begin it by its capitals."""


def legal_form_in(text: str) -> bool:
    """Whether a legal form stands in the text."""
    return _FORM.search(text) is not None


def is_legal_form(text: str) -> bool:
    """Whether the text is nothing but a legal form."""
    return _FORM.fullmatch(text) is not None


class Firm(Kind):
    """The name of a firm, with its legal form if it states one."""

    narrow: ClassVar[bool] = False
    a_name: ClassVar[bool] = True
    proposal_rank: ClassVar[int] = 9
    wraps: ClassVar[Literal["never", "in sentences", "always"]] = "in sentences"
    of_maker: ClassVar[bool] = True
    kind: Literal["firm"] = "firm"

    @property
    def words(self) -> str:
        return "the name of a firm"

    def meant_by(self, text: str, style: Style) -> bool:
        line = line_of_text(text)
        return any(s.shape == 1.0 and s.end - s.start > 0.8 * len(line.text) for s in self.spot(line, style))

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        taken: list[tuple[int, int]] = []
        for m in _WITH_FORM.finditer(line.text):
            start = _whole_name(line.text, m)
            taken.append((start, m.end()))
            before, form = line.text[start : m.start(2)], re.sub("[I1|]", _small_l, m[2])
            yield Span(line, start, m.end(), before + form + m[3], 1.0)
        for m in _CAPITALS.finditer(line.text):
            overlaps = any(m.start() < end and start < m.end() for start, end in taken)
            if not overlaps and not any(c.isdigit() for c in m[0]):
                yield Span(line, m.start(), m.end(), m[0], LETTERHEAD_SHAPE)

    def parse(self, text: str, style: Style) -> str | None:  # noqa: ARG002 - what a person enters counts
        return " ".join(text.split()) or None


_LEADING = frozenset((
    "from", "to", "by", "for", "with", "between", "von", "an", "für", "bei", "mit", "zwischen", "à", "par", "pour",
    "avec", "entre", "de", "per", "da", "con", "van", "voor", "met", "od", "pro",
))  # fmt: skip
"""Words that lead to a name and are no part of it: "Period from Korrin Werke Ltd"."""


def _whole_name(text: str, found: re.Match[str]) -> int:
    """Where a name with small words in it begins, "Plavební společnost Orlík s.r.o.": where its piece of the line does.

    Only if the piece ends with the legal form and is short: in a sentence the name begins at its first capital.
    """
    start = max(text.rfind("\t", 0, found.start()), text.rfind(":", 0, found.start())) + 1
    start += len(text[start:]) - len(text[start:].lstrip())
    before, after = text[start : found.start()], text[found.end() :].split("\t", maxsplit=1)[0]
    words = before.split()
    plain = all(word.isalpha() and len(word) > 1 for word in words) and text[start : start + 1].isupper()
    if words and words[-1].casefold() in _LEADING:
        return found.start()
    return start if plain and not after.strip(" .,;") and len(words) <= MOST_BEFORE else found.start()


def _small_l(found: re.Match[str]) -> str:
    """The l that was read as I, 1 or |, but where a legal form has an I of its own."""
    return found[0] if found.string in LEGAL_FORMS else "l"


_TITLE = r"(?:(?:Mr|Mrs|Ms|Dr|Prof|Capt|Ing|Herr|Frau|Mme|M)\.? )?"
_NAME = r"[A-ZÀ-ÖØ-ÞČŘŠŽ](?:[a-zà-öø-ÿčřšž’'-]+[A-ZÀ-Þ]?[a-zà-ÿčřšž]*|\.)"
_PERSON = re.compile(rf"(?<![\w.-]){_TITLE}{_NAME}(?: (?:{_NAME}|de|da|van|von|der|den|la|le)){{1,4}}(?![\w])")


class Person(Kind):
    """The name of a person, with its title if it has one."""

    narrow: ClassVar[bool] = False
    a_name: ClassVar[bool] = True
    of_maker: ClassVar[bool] = True
    kind: Literal["person"] = "person"

    @property
    def words(self) -> str:
        return "the name of a person"

    def spot(self, line: Line, style: Style) -> Iterator[Span]:  # noqa: ARG002 - one way to write it
        for m in _PERSON.finditer(line.text):
            yield Span(line, m.start(), m.end(), m[0], 1.0)

    def parse(self, text: str, style: Style) -> str | None:  # noqa: ARG002 - what a person enters counts
        return " ".join(text.split()) or None
