"""What a question in plain words asks for: the kind of its answer, and labels that usually stand beside such."""

from __future__ import annotations

import re

from zestpail.core.kinds import Amount, AnyKind, Code, Date, Firm, OneLine, Percentage, Quantity, YesNo

_YES_NO = re.compile(
    r"^(?:may|is|are|was|were|does|do|did|can|could|has|have|had|must|should|will|shall|"
    r"darf|dürfen|ist|sind|hat|haben|kann|muss|wird|peut|est|sont|doit|pode|deve|é|são|puede|es|son|può|mag|moet)\b",
    re.IGNORECASE,
)
_KINDS: tuple[tuple[re.Pattern[str], AnyKind], ...] = (
    (re.compile(r"\b(?:when|what (?:date|day)|wann|bis wann|seit wann|quand|quando|cuándo|date)\b", re.I), Date()),
    (re.compile(r"\b(?:per ?cent|percentage|what share|prozent|pour cent|por cento)\b", re.I), Percentage()),
    (re.compile(r"\b(?:how much|fee|price|cost|amount|rent|charge|wie viel|preis|gebühr|combien|prix|quanto|preço|"
                r"total)\b", re.I), Amount()),
    (re.compile(r"\b(?:how (?:many|long|heavy|deep|wide|high)|weight|length|wie (?:viele|lang|schwer))\b", re.I),
     Quantity()),
    (re.compile(r"\b(?:number|reference|nummer|numéro|número|code)\b", re.I), Code()),
    (re.compile(r"^(?:who|by whom|with whom|wer|qui|quem|quién|chi)\b", re.I), Firm()),
)  # fmt: skip
_HINTS: tuple[tuple[re.Pattern[str], tuple[str, ...]], ...] = (
    (re.compile(r"\b(?:until|till|up to) (?:when|what|which)|\bwhen\b.*\b(?:end|expire|run out|over)|\bexpir|\bends?\b|"
                r"^until\b|\bbis wann", re.IGNORECASE),
     ("valid until", "expiry date", "end date", "last day", "expires on", "ending on", "to", "until", "bis")),
    (re.compile(r"\b(?:from|since) (?:when|what|which)|\bwhen\b.*\b(?:start|begin|commence)|"
                r"^(?:starts?|begins?|from|commence\w*)\b|\b(?:ab|seit) wann", re.IGNORECASE),
     ("valid from", "start date", "first day", "commencement date", "beginning on", "from", "ab")),
    (re.compile(r"\b(?:due|pay(?:able)? by)\b", re.IGNORECASE), ("due date", "payable by")),
    (re.compile(r"\bhow long\b", re.IGNORECASE), ("period", "term", "duration")),
    (re.compile(r"\b(?:fee|rent|price|charge)\b", re.IGNORECASE), ("fee", "rent", "charge", "price")),
)  # fmt: skip
STOP = frozenset(re.findall(
    r"\w+",
    "what which when where who whom whose how much many may might must does did the this that there their with from "
    "into until since have been will shall would could should about upon each every year your ours them they were than",
))  # fmt: skip
"""Words of questions that say nothing of what is asked for."""
SHORTEST, STEM = 4, 5
"""Letters of a word that says something, and of the beginning that it has in common with its other forms."""


def kind_of_answer(question: str) -> AnyKind:
    """The kind of value that answers the question."""
    plain = question.strip(" ¿¡?")
    if _YES_NO.match(plain):
        return YesNo()
    return next((kind for pattern, kind in _KINDS if pattern.search(plain)), OneLine())


def hints_of(question: str) -> tuple[str, ...]:
    """Labels that usually stand beside such an answer."""
    return next((hints for pattern, hints in _HINTS if pattern.search(question)), ())


def stems_of(text: str) -> frozenset[str]:
    """The beginnings of the words that say what a text is about."""
    words = re.findall(rf"[^\W\d_]{{{SHORTEST},}}", text.lower())
    return frozenset(word[:STEM] for word in words if word not in STOP)
