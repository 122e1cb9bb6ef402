"""Whether a document is a second scan of a paper that is here already."""

from __future__ import annotations

from zestpail.core.checks import NotScannedAgain
from zestpail.core.document_type import DocumentType
from zestpail.core.reading.page import PageReading
from zestpail.core.reading.read import ReadPage
from zestpail.core.reading.same_page import figures, figures_in_common, same_page
from zestpail.desk.documents.page_images import page_pixels
from zestpail.desk.documents.page_readings import reading_of
from zestpail.store import Store
from zestpail.store.queries.same_paper import like_from_afar
from zestpail.store.tables import Document, Page

MOST_AFAR = 200
"""First pages that are alike from afar whose words are looked at."""
MOST_NEAR = 4
"""Those of them, with the most figures in common, whose pictures are laid over each other."""
LEAST_IN_COMMON = 0.5
"""The share of figures in common below which pictures are not looked at: a second scan has 0.56 and more."""


def same_paper(store: Store, doc_type: DocumentType, document_id: int, first: Page) -> int | None:
    """The document of the same type whose first page shows the same paper; None where nobody asks, or there is none."""
    asked = any(isinstance(check, NotScannedAgain) for check in doc_type.checks)
    if not asked or first.print is None:
        return None
    with store.transaction() as session:
        afar = like_from_afar(session, session.get_one(Document, document_id), first, MOST_AFAR)
    reading = reading_of(store, first)
    here = figures(word.text for word in reading.words)
    common = [(figures_in_common(here, figures(text.split())), page) for page, text in afar]
    near = sorted((one for one in common if one[0] >= LEAST_IN_COMMON), key=lambda one: -one[0])[:MOST_NEAR]
    if not near:
        return None
    seen = _seen(store, first, reading)
    return next(
        (page.document_id for _, page in near if same_page(seen, _seen(store, page, reading_of(store, page)))), None
    )


def _seen(store: Store, page: Page, reading: PageReading) -> ReadPage:
    return ReadPage(reading, page_pixels(store, page)[0])
