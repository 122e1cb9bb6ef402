"""What the engine proposes for boxes to be ticked, and for a place to sign, that a person draws round."""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence

from zestpail.core.document_type import FieldRule
from zestpail.core.finders import FixedPlace, Option, Signed, Ticked
from zestpail.core.finders.inked.tick_boxes import Side, TickBox, tick_boxes
from zestpail.core.kinds import OneLine, Signature, Tick, YesNo
from zestpail.core.kinds.yes_no import NO, YES
from zestpail.core.landmarks.match import ReferencePosition
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box, around
from zestpail.core.teaching.field_proposal import key_for, label_of, labels_of, name_of

MOST_WORDS = 5
"""Words that may stand where somebody signs."""
ROOM = 1.8
"""How much larger than its label, as a factor, a place to sign is drawn."""
_SIGN = re.compile(r"sign|unterschr|firma d|podpis|handteken|assinat", re.IGNORECASE)


def propose_inked(document: DocumentReading, page: int, box: Box, taken: Collection[str]) -> FieldRule | None:
    """A field for the boxes in ``box`` (points) or for the signature there; None where neither is meant."""
    reading = document.pages[page]
    sides: tuple[Side, ...] = ("right", "left")
    groups = [[b for b in tick_boxes(reading, page, side) if _meant(b.box, box)] for side in sides]
    boxes = max(groups, key=lambda group: sum(bool(b.words) for b in group))
    if boxes:
        return _of_boxes(document, page, boxes, taken)
    message = _signing(document, page, box)
    if not message:
        return None
    name = name_of(message)
    return FieldRule(
        key=key_for(name, taken), name=name, kind=Signature(), finders=(Signed(labels=(message.strip(" :.-–"),)),)
    )


def _meant(there: Box, drawn: Box) -> bool:
    """Whether a box of the page is drawn round, or pointed at."""
    return drawn.covers_centre_of(there) or there.grown(1).covers_centre_of(drawn)


def _signing(document: DocumentReading, page: int, box: Box) -> str:
    """The words by which one signs in a box that has room for it; "" where it is no such place."""
    inside = [word for word in document.pages[page].words if box.covers_centre_of(word.box)]
    if not inside:
        label = label_of(document, page, box)
        return label.text if label and _SIGN.search(label.text) else ""
    printed = around(word.box for word in inside)
    roomy = box.height > ROOM * printed.height or box.width > ROOM * printed.width
    message = " ".join(word.text for word in inside)
    return message if len(inside) <= MOST_WORDS and roomy and _SIGN.search(message) else ""


def _of_silent_box(document: DocumentReading, page: int, box: TickBox, label: str, taken: Collection[str]) -> FieldRule:
    """A box without words right beside it is found by its place; its name is the label that is nearest."""
    name = name_of(label) if label else f"Box {len(taken) + 1}"
    reading = document.pages[page]
    zone = ReferencePosition(page=page, width=reading.width, height=reading.height, box=box.box.grown(2))
    return FieldRule(key=key_for(name, taken), name=name, kind=Tick(), finders=(FixedPlace(zone=zone),))


def _of_boxes(
    document: DocumentReading, page: int, boxes: Sequence[TickBox], taken: Collection[str]
) -> FieldRule | None:
    spoken = [box for box in boxes if box.words]
    others = [box for box in tick_boxes(document.pages[page], page, "right") if box not in boxes]
    answers = {word.text for box in others for word in box.words}
    labels = labels_of(document, page, around(box.whole for box in boxes))
    label = next((one for one in labels if not set(one.text.split()) & answers), None)
    if not spoken:
        return _of_silent_box(document, page, boxes[0], label.text if label else "", taken)
    if len(spoken) == 1:
        name = name_of(spoken[0].text)
        finder = Ticked(options=(Option(value="yes", wordings=(spoken[0].text,)),))
        return FieldRule(key=key_for(name, taken), name=name, kind=Tick(), finders=(finder,))
    message = [box.words[0].text.strip(" .,:") or box.text for box in spoken]
    yes_or_no = all(text.casefold() in (*YES, *NO) for text in message)
    options = tuple(Option(value=text, wordings=(text,)) for text in dict.fromkeys(box.text for box in spoken))
    name = name_of(label.text) if label else f"Choice {len(taken) + 1}"
    return FieldRule(
        key=key_for(name, taken),
        name=name,
        kind=YesNo() if yes_or_no else OneLine(),
        finders=(Ticked(labels=(label.text,) if label else (), options=options),),
    )
