"""Notes and highlights on delivered pages: burnt into the picture, or as annotations of the PDF.

Annotations are /Square and /Highlight with appearances of their own, as PDF/A-2b wants them (ISO 32000-1, 12.5.6;
ISO 19005-2, 6.3). A note's words stand in its /Contents; burnt in, they stand beside its box.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, NamedTuple

import numpy as np
import pikepdf
from numpy.typing import NDArray
from pikepdf import Array, Dictionary, Name
from PIL import Image, ImageDraw, ImageFont

from zestpail.core.reading.geometry import Box

MARKER = (0.62, 0.84, 0.8)
"""The colour of highlights, red-green-blue in [0, 1]."""
LINE = 1.2
"""Points."""
LETTERS = 9.0
"""Points that burnt-in letters are high."""
PRINTED = 4
"""The flag by which an annotation is printed too, and not hidden."""


class NoteOnPage(NamedTuple):
    """Something noted, where it lies on the prepared page (points)."""

    kind: Literal["note", "highlight"]
    box: Box
    text: str
    by: str


def burnt_in(pixels: NDArray[np.uint8], width: float, notes: Sequence[NoteOnPage]) -> NDArray[np.uint8]:
    """The page image with its notes drawn on it; ``width`` is the page's in points."""
    if not notes:
        return pixels
    image = Image.fromarray(pixels).convert("RGB")
    scale = image.width / width
    draw = ImageDraw.Draw(image)
    for note in notes:
        left, top, right, bottom = (round(side * scale) for side in note.box)
        area = (left, top, right, bottom)
        if note.kind == "highlight":
            marker = np.asarray(MARKER) * 255
            part = image.crop(area)
            image.paste(Image.fromarray((np.asarray(part) * (marker / 255)).astype(np.uint8)), (left, top))
        else:
            draw.rectangle(area, outline=(26, 43, 40), width=max(round(LINE * scale), 1))
        if note.text:
            _write(draw, note, scale, image.width)
    return np.asarray(image, np.uint8)


def _write(draw: ImageDraw.ImageDraw, note: NoteOnPage, scale: float, width: int) -> None:
    """The words under the box, on paper of their own, in lines that stay on the page."""
    font = ImageFont.load_default(LETTERS * scale)
    left, top = note.box.x0 * scale, (note.box.y1 + 2) * scale
    lines, line = [], ""
    for word in note.text.split():
        longer = f"{line} {word}".strip()
        if line and left + draw.textlength(longer, font=font) > width - 4 * scale:
            lines.append(line)
            longer = word
        line = longer
    text = "\n".join([*lines, line])
    draw.rectangle(draw.multiline_textbbox((left, top), text, font=font), fill=(255, 255, 255))
    draw.multiline_text((left, top), text, font=font, fill=(26, 43, 40))


def note_annotations(pdf: pikepdf.Pdf, height: float, notes: Sequence[NoteOnPage]) -> list[pikepdf.Object]:
    """The notes of a page of that height (points) as annotations."""
    return [pdf.make_indirect(_annotation(pdf, height, note)) for note in notes]


def _annotation(pdf: pikepdf.Pdf, height: float, note: NoteOnPage) -> Dictionary:
    x0, y0, x1, y1 = note.box.x0, height - note.box.y1, note.box.x1, height - note.box.y0
    wide, high = x1 - x0, y1 - y0
    if note.kind == "highlight":
        drawn = f"/Marker gs {' '.join(map(str, MARKER))} rg 0 0 {wide:.3f} {high:.3f} re f"
        own = Dictionary(Subtype=Name.Highlight, QuadPoints=Array([x0, y1, x1, y1, x0, y0, x1, y0]))
    else:
        half = LINE / 2
        drawn = f"0.1 0.17 0.16 RG {LINE} w {half} {half} {wide - LINE:.3f} {high - LINE:.3f} re S"
        own = Dictionary(Subtype=Name.Square)
    look = pdf.make_stream(drawn.encode("ascii"))
    look.Type, look.Subtype, look.BBox = Name.XObject, Name.Form, Array([0, 0, wide, high])
    look.Resources = Dictionary(ExtGState=Dictionary(Marker=Dictionary(Type=Name.ExtGState, BM=Name.Multiply)))
    common = Dictionary(
        Type=Name.Annot, Rect=Array([x0, y0, x1, y1]), Contents=pikepdf.String(note.text), T=pikepdf.String(note.by),
        F=PRINTED, C=Array(list(MARKER)), AP=Dictionary(N=look),
    )  # fmt: skip
    for key, value in own.items():
        common[key] = value
    return common
