"""A document drawn in the forms in which the destinations of its lane take it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from sqlmodel import Session, select

from zestpail.core.exchange.of_values import Unwritable
from zestpail.core.reading.preparation.edits import UNTOUCHED
from zestpail.core.writing.notes import NotesOut
from zestpail.core.writing.renditions import OF_VALUES, Rendered, Rendition, Written, in_order, rendered
from zestpail.core.writing.value_files import DocumentValues
from zestpail.delivery import Drawn, Refused
from zestpail.delivery.values import document_values
from zestpail.desk.delivery.content import content_of, terms_of
from zestpail.desk.documents.context import settings_of, type_of
from zestpail.desk.documents.searchable_pages import PagesToWrite
from zestpail.desk.documents.table_rows import plain
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.queries.deliveries import current_deliveries
from zestpail.store.queries.documents import pages_of, rows_of, values_of
from zestpail.store.states import DocumentState
from zestpail.store.tables import ArrivedFile, Document, Page

READY = (DocumentState.SETTLED, DocumentState.STUCK)


@dataclass(frozen=True)
class DrawnDocument:
    """The files of a document, and the digest of what they were drawn of."""

    pdf: str
    """Its searchable PDF, by the hash under which it is kept."""
    content: str
    files: Mapping[Rendition, Drawn]


@dataclass(frozen=True)
class _Wanted:
    pages: list[Page]
    title: str
    notes: NotesOut
    values: DocumentValues | None
    """Only where a form is made of them."""
    forms: tuple[Rendition, ...]
    arrived: str | None
    content: str


def draw(store: Store, document_id: int) -> DrawnDocument | None:
    """The document as it stands, in the forms in which it is to be planned; what was planned with is not drawn again.

    None if it is not ready. Raises Refused where its values make no invoice, and one is wanted.
    """
    with store.transaction() as session:
        document = session.get_one(Document, document_id, with_for_update=True)
        if document.state not in READY:
            return None
        content, settings = content_of(session, document), settings_of(session, document)
        pdf, missing = _planned_with(store, session, document, settings, content)
        if pdf and not missing:
            return DrawnDocument(pdf, content, {"searchable_pdf": Drawn(pdf, ".pdf")})
        wanted = _wanted(session, document, settings.notes, missing, content)
    return _drawn(store, wanted, pdf)


def drawn_for_trial(store: Store, document_id: int, notes: NotesOut, forms: tuple[Rendition, ...]) -> DrawnDocument:
    """The document as it stands now, in whatever state it is."""
    with store.transaction() as session:
        wanted = _wanted(session, session.get_one(Document, document_id), notes, list(forms), "")
    return _drawn(store, wanted, "")


def rendered_now(store: Store, document_id: int, form: Rendition) -> Rendered | None:
    """The document as it stands now in one form, kept nowhere; None where no page of it was read.

    Raises Refused where its values make no invoice, and one is wanted.
    """
    with store.transaction() as session:
        document = session.get_one(Document, document_id)
        wanted = _wanted(session, document, settings_of(session, document).notes, [form], "")
    written = _written(store, wanted)
    return _rendered(written, form) if written.pages else None


def _planned_with(
    store: Store, session: Session, document: Document, settings: LaneSettings, content: str
) -> tuple[str, list[Rendition]]:
    """The PDF of a plan that is in force, or ""; and the forms in which what is not planned yet will be."""
    known, pdf, missing = current_deliveries(session, document.id or 0), "", list[Rendition]()
    for destination in settings.destinations:
        delivery = known.get(destination.id)
        terms = terms_of(settings, destination)
        in_force = delivery and delivery.content == content and delivery.terms == terms and delivery.plan
        if in_force and store.blobs.holds(in_force.pdf):
            pdf = in_force.pdf
        else:
            missing += destination.wants
    return pdf, missing


def _wanted(
    session: Session, document: Document, notes: NotesOut, forms: list[Rendition], content: str
) -> _Wanted:  # fmt: skip
    document_id = document.id or 0
    pages = pages_of(session, document_id)
    values = {value.key: value.value for value in values_of(session, document_id)}
    told = _told(session, document, values) if OF_VALUES.intersection(forms) else None
    title = values.get("invoice_number") or f"Document {document_id}"
    arrived = _arrived(session, pages, notes) if "original" in forms else None
    return _Wanted(pages, title, notes, told, in_order(["searchable_pdf", *forms]), arrived, content)


def _told(session: Session, document: Document, values: Mapping[str, str | None]) -> DocumentValues:
    doc_type = type_of(session, document)
    rows = plain(doc_type, rows_of(session, document.id or 0))
    return document_values(f"D{document.id}", doc_type, values, rows, document.origin.given)


def _arrived(session: Session, pages: list[Page], notes: NotesOut) -> str | None:
    """The file whose pages these are, all of them and in order, if nothing was done to any; else None."""
    file_id = pages[0].file_id if pages else None
    if file_id is None:
        return None
    all_of_it = sorted(page.file_index for page in session.exec(select(Page).where(Page.file_id == file_id)))
    whole = [(page.file_id, page.file_index) for page in pages] == [(file_id, index) for index in all_of_it]
    untouched = all(page.edits == UNTOUCHED and not (page.notes and notes == "burnt_in") for page in pages)
    return session.get_one(ArrivedFile, file_id).blob if whole and untouched else None


def _drawn(store: Store, wanted: _Wanted, pdf: str) -> DrawnDocument:
    written = _written(store, wanted)
    files: dict[Rendition, Drawn] = {"searchable_pdf": Drawn(pdf, ".pdf")} if pdf else {}
    for form in wanted.forms:
        if form not in files:
            made = _rendered(written, form)
            files[form] = Drawn(store.blobs.put(made.data), made.suffix)
    return DrawnDocument(files["searchable_pdf"].blob, wanted.content, files)


def _written(store: Store, wanted: _Wanted) -> Written:
    to_write = PagesToWrite(store, wanted.notes)
    arrived = store.blobs.get(wanted.arrived) if wanted.arrived else None
    pages = [to_write.page(page) for page in wanted.pages if page.image]
    return Written(pages, wanted.title, wanted.values, arrived)


def _rendered(written: Written, form: Rendition) -> Rendered:
    try:
        return rendered(written, form)
    except Unwritable as problem:
        raise Refused(f"It cannot be sent as an electronic invoice. {problem}") from problem
