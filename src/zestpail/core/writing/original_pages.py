"""Pages of a PDF as they came: their text, fonts and links, without what could run or hide in them.

A page is copied from the file that arrived. Fields of forms and what was laid over it become part of its content, links
to the web stay, everything else that is attached to it goes: scripts, actions, files, comments.
"""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass, field

import pikepdf
import pypdfium2 as pdfium
from pikepdf import Array, Name

from zestpail.core.reading.form_fields import flattened_file
from zestpail.core.writing.notes_on_pages import NoteOnPage, note_annotations

SAFE_LINKS = ("http://", "https://", "mailto:")
_ATTACHED = ("/AA", "/AF", "/Metadata", "/PieceInfo", "/StructParents", "/Tabs", "/B", "/Thumb", "/Trans", "/Dur",
             "/PresSteps", "/Annots")  # fmt: skip
"""What hangs on a page besides what it shows."""


@dataclass(frozen=True)
class OriginalPage:
    """A page of a PDF that arrived, by its number in it (from 0); ``notes`` are laid over it."""

    data: bytes = field(repr=False)
    index: int
    notes: tuple[NoteOnPage, ...] = ()


Link = tuple[list[float], str]
"""Where it is on the page (left, bottom, right, top, as the PDF counts), and its address."""


@dataclass(frozen=True)
class _File:
    """A file with what lay over its pages drawn into them, and the links of each page."""

    pdf: pikepdf.Pdf
    links: list[list[Link]]


class Originals:
    """The files that pages are taken from, each opened once."""

    def __init__(self) -> None:
        self._opened: dict[int, _File | None] = {}
        self._kept: list[bytes] = []

    def add(self, pdf: pikepdf.Pdf, page: OriginalPage) -> bool:
        """Copy the page to the end of ``pdf``, made safe; False where it has to be shown as a picture instead."""
        if id(page.data) not in self._opened:
            self._kept.append(page.data)  # so that its id stays its own
            self._opened[id(page.data)] = _opened(page.data)
        file = self._opened[id(page.data)]
        if file is None or page.index >= len(file.pdf.pages):
            return False
        found = file.pdf.pages[page.index]
        if page.notes and not _lies_plainly(found):
            return False
        for name in _ATTACHED:
            if name in found.obj:
                del found.obj[name]
        pdf.pages.append(found)
        copied = pdf.pages[-1]
        annotations = [_link(pdf, rect, address) for rect, address in file.links[page.index]]
        annotations += note_annotations(pdf, float(copied.mediabox[3]), page.notes)
        if annotations:
            copied.obj.Annots = Array(annotations)
        return True


def _opened(data: bytes) -> _File | None:
    """The file, ready to be copied from; None where its pages cannot be taken as they are."""
    try:
        pdf = pikepdf.open(io.BytesIO(data))
        if "/OCProperties" in pdf.Root:  # layers: what is seen depends on settings that do not come with a page
            return None
        links = [list(_links(page)) for page in pdf.pages]
        if any(len(page.obj.get("/Annots") or ()) for page in pdf.pages):
            pdf = pikepdf.open(io.BytesIO(flattened_file(data)))
    except (pikepdf.PdfError, pdfium.PdfiumError, ValueError, TypeError, AttributeError, KeyError):
        return None
    return _File(pdf, links)


def _links(page: pikepdf.Page) -> Iterator[Link]:
    """The links of a page to addresses on the web."""
    for annotation in page.obj.get("/Annots") or ():
        action = annotation.get("/A")
        if annotation.get("/Subtype") == Name.Link and action is not None and action.get("/S") == Name.URI:
            address = str(action.get("/URI", ""))
            if address.lower().startswith(SAFE_LINKS):
                yield [float(side) for side in annotation.Rect], address


def _link(pdf: pikepdf.Pdf, rect: list[float], address: str) -> pikepdf.Object:
    action = pikepdf.Dictionary(S=Name.URI, URI=pikepdf.String(address))
    return pdf.make_indirect(pikepdf.Dictionary(
        Type=Name.Annot, Subtype=Name.Link, Rect=Array(rect), Border=Array([0, 0, 0]), F=4, A=action,
    ))  # fmt: skip


def _lies_plainly(page: pikepdf.Page) -> bool:
    """Whether points from the top-left corner are points of the page: not turned, and not cut to a part."""
    box = [float(side) for side in page.mediabox]
    return (
        int(page.obj.get("/Rotate", 0)) % 360 == 0 and box[:2] == [0, 0] and list(page.cropbox) == list(page.mediabox)
    )
