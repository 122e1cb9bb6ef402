"""What the engine proposes for something that a person points at: a field for a value, a landmark for a mark."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Collection, Iterator
from dataclasses import dataclass
from typing import Literal

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import BesideLabel, Looks, Pattern
from zestpail.core.kinds import (
    Amount,
    AnyKind,
    Code,
    Currency,
    Date,
    Email,
    Firm,
    Iban,
    Number,
    OneLine,
    Percentage,
    Quantity,
    Style,
    VatNumber,
)
from zestpail.core.landmarks import AnyLandmark, PrintedWords, RuledLine
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import Line, line_of_text
from zestpail.core.reading.page import Word
from zestpail.core.sighting import Home

ABOVE = 3.0
"""How many line heights above a value its label may stand."""
ON_THE_LINE = 4.0
"""How near to a ruled line, in points, a click means it."""
LONGEST_LABEL = 5
"""Words."""


@dataclass(frozen=True)
class FoundLabel:
    """The words that seem to announce a value, and where the value stands from them."""

    text: str
    direction: Literal["right", "below"]
    gap: float
    """Points between the two."""


def propose_field(
    document: DocumentReading, style: Style, page: int, box: Box, text: str, taken: Collection[str]
) -> FieldRule:
    """Name, kind and rule for the value in ``box``: beside its label, or by its looks where it has none."""
    kind, label = kind_of(text, style), label_of(document, page, box)
    name = _name(label.text) if label else f"Field {len(taken) + 1}"
    finder = BesideLabel(labels=(label.text,), directions=(label.direction,)) if label else Pattern(weight=0.6)
    return FieldRule(
        key=_key(name, taken),
        name=name,
        kind=kind,
        finders=(finder,),
        looks=Looks(examples=(text,)) if isinstance(kind, Code | OneLine) and not label else None,
    )


def kind_of(text: str, style: Style) -> AnyKind:
    """The narrowest kind that the whole text is."""
    line = line_of_text(text)
    narrow: tuple[AnyKind, ...] = (Iban(), Email(), Date(), Percentage(), VatNumber())
    for kind in narrow:
        if any(s.shape > 0.9 and s.end - s.start >= len(line.text) - 1 for s in kind.spot(line, style)):
            return kind
    for kind in (kind for kind, meant in _wider(text, style) if meant):
        return kind
    return OneLine()


def _wider(text: str, style: Style) -> Iterator[tuple[AnyKind, bool]]:
    """Kinds that fit much, in order, each with whether the text is meant as one."""
    line = line_of_text(text)
    firms = Firm().spot(line, style)
    yield Amount(), bool(re.search(r"\d[.,]\d\d\D{0,4}$", text) and Amount().parse(text, style))
    yield Quantity(), bool(re.search(r"\d [^\W\d_]{1,4}³?$", text) and Quantity().parse(text, style))
    yield Currency(), len(text) <= 4 and Currency().parse(text, style) is not None
    yield Firm(), any(s.shape == 1.0 and s.end - s.start > 0.8 * len(line.text) for s in firms)
    yield Number(), text.isdigit() and len(text) < 4
    yield Code(), any(c.isdigit() for c in text) and len(text.split()) == 1


def label_of(document: DocumentReading, page: int, box: Box) -> FoundLabel | None:
    """The label of a value: what stands to its left on the line, else what stands above it; None where neither does."""
    lines = [line for line in document.lines if line.page == page]
    own = max(lines, key=lambda line: line.box.side_by_side(box), default=None)
    if own is not None and own.box.side_by_side(box) > 0.4:
        before = [word for word in own.words if word.box.x1 <= box.x0 + 1]
        words = _last_piece(own, before)
        if words:
            return FoundLabel(_plain(words), "right", box.x0 - words[-1].box.x1)
    above = [line for line in lines if 0 < box.y0 - line.box.y1 + 2 < ABOVE * max(line.height, box.height)]
    for line in sorted(above, key=lambda line: -line.box.cy):
        over = [word for word in line.words if word.box.stacked(box) > 0 or abs(word.box.x0 - box.x0) < line.height]
        words = _last_piece(line, [w for w in line.words if over and w.box.x0 <= max(o.box.x1 for o in over)])
        if over and words:
            return FoundLabel(_plain(words), "below", box.y0 - line.box.y1)
    return None


def propose_landmark(document: DocumentReading, page: int, box: Box, key: str) -> AnyLandmark | None:
    """What was pointed at in ``box``: a ruled line, else the printed words in it; None where there is neither."""
    reading = document.pages[page]
    rules = [
        r for r in reading.rules if abs(r.cy - box.cy) < ON_THE_LINE + box.height / 2 and r.x0 - 4 < box.cx < r.x1 + 4
    ]
    words = [word for word in reading.words if box.grown(0.5).covers_centre_of(word.box)]
    if words:
        place = around(word.box for word in words)
        text = " ".join(word.text for word in words).strip(" :")
        home = Home(page=page, width=reading.width, height=reading.height, box=place)
        return PrintedWords(key=key, wordings=(text,), home=home) if any(c.isalnum() for c in text) else None
    if rules:
        nearest = min(rules, key=lambda rule: abs(rule.cy - box.cy))
        return RuledLine(key=key, home=Home(page=page, width=reading.width, height=reading.height, box=nearest))
    return None


def _last_piece(line: Line, words: list[Word]) -> list[Word]:
    """The words at the end that belong together: not over a wide gap, unless the last one itself is across it."""
    piece: list[Word] = []
    for word in reversed(words):
        if piece and piece[0].box.x0 - word.box.x1 > 1.3 * line.height:
            break
        piece.insert(0, word)
    piece = piece[-LONGEST_LABEL:]
    return piece if any(c.isalpha() for word in piece for c in word.text) else []


def _plain(words: list[Word]) -> str:
    return " ".join(word.text for word in words).strip(" :.-–") or words[0].text


def _name(label: str) -> str:
    plain = re.sub(r"\s+", " ", label).strip(" .:#-")
    return plain[:1].upper() + plain[1:40]


def _key(name: str, taken: Collection[str]) -> str:
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "_", plain).strip("_") or "field"
    base = base if base[0].isalpha() else f"field_{base}"
    return next(key for at in range(1, 1000) if (key := base if at == 1 else f"{base}_{at}") not in taken)
