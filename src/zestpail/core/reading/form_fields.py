"""Filled PDF forms: their fields are drawn into the page, and their values taken as they are.

What a form shows lies in annotations beside the page's own content: it is made part of it (pdfium's *flatten*), so that
it is seen, and its words are words of the page. Notes, stamps and text that somebody laid over a page go the same way.
"""

from __future__ import annotations

import ctypes
import io
from collections.abc import Callable, Iterator, Sequence

import pypdfium2 as pdfium
from pypdfium2 import raw

from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import FormEntry, Word

TICKED = (raw.FPDF_FORMFIELD_CHECKBOX, raw.FPDF_FORMFIELD_RADIOBUTTON)
WITH_TEXT = (raw.FPDF_FORMFIELD_TEXTFIELD, raw.FPDF_FORMFIELD_COMBOBOX, raw.FPDF_FORMFIELD_LISTBOX)
SLACK = 2.0
"""Points by which a word of a field may stand out of it: what is longer than the field is not seen."""


def has_annotations(page: pdfium.PdfPage) -> bool:
    """Whether anything lies over the page's own content."""
    return bool(raw.FPDFPage_GetAnnotCount(page) > 0)


def entries_on(pdf: pdfium.PdfDocument, page: pdfium.PdfPage, shown: Callable[[Box], Box]) -> tuple[FormEntry, ...]:
    """The form's fields on a page; ``shown`` brings boxes of the PDF to points from the top-left corner."""
    return tuple(_entries(pdf, page, shown)) if pdf.formenv else ()


def flattened(pdf: pdfium.PdfDocument, page: pdfium.PdfPage, index: int) -> pdfium.PdfPage:
    """The page with all that lies over it as part of its content."""
    if raw.FPDFPage_Flatten(page, raw.FLAT_NORMALDISPLAY) == raw.FLATTEN_FAIL:
        return page
    page.close()
    return pdf[index]


def flattened_file(data: bytes) -> bytes:
    """The PDF with what lies over its pages as part of their content; links go. Raises pypdfium2.PdfiumError."""
    pdf = pdfium.PdfDocument(data)
    if pdf.get_formtype() != raw.FORMTYPE_NONE:
        pdf.init_forms()
    for index in range(len(pdf)):
        raw.FPDFPage_Flatten(pdf[index], raw.FLAT_NORMALDISPLAY)
    out = io.BytesIO()
    pdf.save(out)
    return out.getvalue()


def seen_words(before: Sequence[Word], after: Sequence[Word], places: Sequence[Box]) -> tuple[Word, ...]:
    """The words of a flattened page without what a field is too small to show."""
    own = {_key(word) for word in before}
    fields = [place.grown(SLACK) for place in places]
    return tuple(
        word for word in after if _key(word) in own or any(place.covers_centre_of(word.box) for place in fields)
    )


def places_on(page: pdfium.PdfPage, shown: Callable[[Box], Box]) -> list[Box]:
    """Where anything lies over the page."""
    return [_box(annotation, shown) for annotation in _annotations(page)]


def _key(word: Word) -> tuple[str, int, int]:
    return word.text, round(word.box.x0), round(word.box.y0)


def _annotations(page: pdfium.PdfPage) -> Iterator[raw.FPDF_ANNOTATION]:
    for at in range(raw.FPDFPage_GetAnnotCount(page)):
        annotation = raw.FPDFPage_GetAnnot(page, at)
        if annotation:
            yield annotation
            raw.FPDFPage_CloseAnnot(annotation)


def _entries(pdf: pdfium.PdfDocument, page: pdfium.PdfPage, shown: Callable[[Box], Box]) -> Iterator[FormEntry]:
    form = pdf.formenv
    for annotation in _annotations(page):
        kind = raw.FPDFAnnot_GetFormFieldType(form, annotation)
        if kind not in (*TICKED, *WITH_TEXT):
            continue
        ticked = bool(raw.FPDFAnnot_IsChecked(form, annotation)) if kind in TICKED else None
        asked = raw.FPDFAnnot_GetFormFieldExportValue if kind in TICKED else raw.FPDFAnnot_GetFormFieldValue
        value = _text(asked, form, annotation)
        if kind == raw.FPDF_FORMFIELD_LISTBOX:
            chosen = list(_chosen(form, annotation))
            value = value if value and len(chosen) < 2 else "\n".join(chosen)
        yield FormEntry(
            name=_text(raw.FPDFAnnot_GetFormFieldName, form, annotation),
            label=_text(raw.FPDFAnnot_GetFormFieldAlternateName, form, annotation),
            value=value if ticked is None or ticked else "",
            box=_box(annotation, shown),
            ticked=ticked,
        )


def _chosen(form: pdfium.PdfFormEnv, annotation: raw.FPDF_ANNOTATION) -> Iterator[str]:
    for at in range(max(raw.FPDFAnnot_GetOptionCount(form, annotation), 0)):
        if raw.FPDFAnnot_IsOptionSelected(form, annotation, at):
            yield _text(lambda *given, at=at: raw.FPDFAnnot_GetOptionLabel(given[0], given[1], at, *given[2:]),
                        form, annotation)  # fmt: skip


def _text(asked: Callable[..., int], form: pdfium.PdfFormEnv, annotation: raw.FPDF_ANNOTATION) -> str:
    """A text of pdfium, which is asked for its length first (UTF-16, ended by a zero)."""
    length = asked(form, annotation, None, 0)
    if length <= 2:
        return ""
    buffer = (ctypes.c_ushort * (length // 2))()
    asked(form, annotation, buffer, length)
    return bytes(buffer).decode("utf-16-le", "replace").rstrip("\0").replace("\r\n", "\n").replace("\r", "\n")


def _box(annotation: raw.FPDF_ANNOTATION, shown: Callable[[Box], Box]) -> Box:
    rect = raw.FS_RECTF()
    raw.FPDFAnnot_GetRect(annotation, rect)
    left, right = sorted((rect.left, rect.right))
    bottom, top = sorted((rect.bottom, rect.top))
    return shown(Box(left, bottom, right, top))
