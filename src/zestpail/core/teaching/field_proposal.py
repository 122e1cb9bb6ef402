"""What the engine proposes for something that a person points at: a field for a value, a landmark for a mark."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator
from dataclasses import dataclass
from typing import Literal

from slugify import slugify

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import BesideLabel, InBarcode, InFormField, Learned, Pattern, ValueProfile
from zestpail.core.kinds import PROPOSED, AnyKind, OneLine, Style
from zestpail.core.landmarks import AnyLandmark, BarcodePlace, BlankStrip, MarkPlace, PrintedWords, RuledLine
from zestpail.core.landmarks.match import ReferencePosition
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.features.blank_strips import strips_of
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.lines import Line, line_of_text
from zestpail.core.reading.page import Barcode, FormEntry, Word

ABOVE = 3.0
"""How many line heights above a value its label may stand."""
ON_THE_LINE = 4.0
"""How near to a ruled line, in points, a click means it."""
LONGEST_LABEL = 5
"""Words."""
SPOKEN = 0.8
"""How well a text of a letter must fit a kind to be meant as it."""
LEAST_TEXT = 3
"""What is read in a box to be ticked is shorter than this."""


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
    """Name, kind and rule for the value in ``box``: in a barcode, beside its label, or else by its looks."""
    code = barcode_at(document, page, box)
    if code and code.text == text:
        name = "Barcode" if "barcode" not in taken else f"Barcode {len(taken) + 1}"
        return FieldRule(key=key_for(name, taken), name=name, kind=OneLine(), finders=(InBarcode(),))
    entry = entry_at(document, page, box)
    if entry:
        return _of_form(entry, document, style, page, taken)
    if style.day is not None:
        return _of_letter(text, style, taken)
    kind, label = kind_of(text, style), label_of(document, page, box)
    name = name_of(label.text) if label else f"Field {len(taken) + 1}"
    finder = BesideLabel(labels=(label.text,), directions=(label.direction,)) if label else Pattern(weight=0.6)
    return FieldRule(
        key=key_for(name, taken),
        name=name,
        kind=kind,
        finders=(finder,),
        profile=ValueProfile(examples=(text,)) if (kind.identifies or kind == OneLine()) and not label else None,
    )


def _of_letter(text: str, style: Style, taken: Collection[str]) -> FieldRule:
    """In a letter nothing is labelled: what samples teach finds it, and its kind gives the name."""
    said = text.strip(" .,;:?!()\"'“”")
    fitting = (kind for kind in PROPOSED if any(
        span.end - span.start >= len(said) - 1 and span.shape >= SPOKEN for span in kind.spot(line_of_text(said), style)
    ))  # fmt: skip
    kind = next(fitting, OneLine())
    name = name_of(kind.words.removeprefix("a ").removeprefix("an "))
    name = name if key_for(name, ()) not in taken else f"{name} {len(taken) + 1}"
    return FieldRule(key=key_for(name, taken), name=name, kind=kind, finders=(Learned(),))


def entry_at(document: DocumentReading, page: int, box: Box) -> FormEntry | None:
    """The field of a PDF form that is meant by pointing at ``box``."""
    entries = [entry for entry in document.pages[page].form if entry.ticked is None and entry.value.strip()]
    return next((entry for entry in entries if _meant(entry.box, box)), None)


def _of_form(entry: FormEntry, document: DocumentReading, style: Style, page: int, taken: Collection[str]) -> FieldRule:
    label = label_of(document, page, entry.box)
    name = name_of(entry.label or (label.text if label else "") or entry.labels[-1])
    return FieldRule(
        key=key_for(name, taken), name=name, kind=kind_of(entry.value, style), finders=(InFormField(name=entry.name),)
    )


def barcode_at(document: DocumentReading, page: int, box: Box) -> Barcode | None:
    """The barcode that is meant by pointing at ``box``."""
    return next((code for code in document.pages[page].barcodes if _meant(code.box, box)), None)


def kind_of(text: str, style: Style) -> AnyKind:
    """The narrowest kind that the text is meant as; one line of text if it is no other."""
    return next((kind for kind in PROPOSED if kind.meant_by(text, style)), OneLine())


def label_of(document: DocumentReading, page: int, box: Box) -> FoundLabel | None:
    """The label of a value: what stands to its left on the line, else what stands above it; None where neither does."""
    return next(iter(labels_of(document, page, box)), None)


def labels_of(document: DocumentReading, page: int, box: Box) -> Iterator[FoundLabel]:
    """What may be the label of a value, likeliest first; text with figures in it is a value itself."""
    found = [label for label in _labels(document, page, box) if not any(c.isdigit() for c in label.text)]
    yield from found or _labels(document, page, box)


def _labels(document: DocumentReading, page: int, box: Box) -> Iterator[FoundLabel]:
    lines = [line for line in document.lines if line.page == page]
    own = max(lines, key=lambda line: line.box.side_by_side(box), default=None)
    if own is not None and own.box.side_by_side(box) > 0.4:
        before = [word for word in own.words if word.box.x1 <= box.x0 + 1]
        words = _last_piece(own, before)
        if words:
            yield FoundLabel(_plain(words), "right", box.x0 - words[-1].box.x1)
    above = [line for line in lines if 0 < box.y0 - line.box.y1 + 2 < ABOVE * max(line.height, box.height)]
    for line in sorted(above, key=lambda line: -line.box.cy):
        over = [word for word in line.words if word.box.stacked(box) > 0 or abs(word.box.x0 - box.x0) < line.height]
        words = _last_piece(line, [w for w in line.words if over and w.box.x0 <= max(o.box.x1 for o in over)])
        if over and words:
            yield FoundLabel(_plain(words), "below", box.y0 - line.box.y1)
            return


def propose_landmark(document: DocumentReading, page: int, box: Box, key: str) -> AnyLandmark | None:
    """What was pointed at in ``box``; None where there is nothing.

    In this order: a barcode, the printed words in it, a box to be ticked, a ruled line, the blank strip around it.
    """
    reading = document.pages[page]

    def at_reference(place: Box) -> ReferencePosition:
        return ReferencePosition(page=page, width=reading.width, height=reading.height, box=place)

    code = barcode_at(document, page, box)
    if code:
        return BarcodePlace(key=key, symbology=code.symbology, reference=at_reference(code.box))
    words = [word for word in reading.words if box.grown(0.5).covers_centre_of(word.box)]
    text = " ".join(word.text for word in words).strip(" :")
    mark = next((mark for mark in reading.marks if _meant(mark.box, box)), None)
    if words and not (mark and len(text) < LEAST_TEXT):
        reference = at_reference(around(word.box for word in words))
        return PrintedWords(key=key, wordings=(text,), reference=reference) if any(c.isalnum() for c in text) else None
    if mark:
        return MarkPlace(key=key, reference=at_reference(mark.box))
    rules = [
        r for r in reading.rules if abs(r.cy - box.cy) < ON_THE_LINE + box.height / 2 and r.x0 - 4 < box.cx < r.x1 + 4
    ]
    if rules:
        return RuledLine(key=key, reference=at_reference(min(rules, key=lambda rule: abs(rule.cy - box.cy))))
    strip = next((strip for strip in strips_of(reading) if strip.y0 <= box.cy <= strip.y1), None)
    return BlankStrip(key=key, reference=at_reference(strip)) if strip else None


def _meant(there: Box, pointed: Box) -> bool:
    return there.grown(1).covers_centre_of(pointed) or pointed.covers_centre_of(there)


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


def name_of(label: str) -> str:
    """A field's name that is made of the label beside it."""
    plain = re.sub(r"\s+", " ", label).strip(" .:#-")
    return plain[:1].upper() + plain[1:40]


def key_for(name: str, taken: Collection[str]) -> str:
    """A free key that is made of the field's name."""
    base = slugify(name, separator="_") or "field"
    base = base if base[0].isalpha() else f"field_{base}"
    return next(key for at in range(1, 1000) if (key := base if at == 1 else f"{base}_{at}") not in taken)
