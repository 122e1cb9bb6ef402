"""What several tests of the desk begin with."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from sqlmodel import select

from tests.core.paper import page
from tests.desk.flow import ids
from tests.desk.type_flow import KEY, NOTES
from zestpail.core.writing.searchable_pdf import PageToWrite, searchable_pdf
from zestpail.desk.documents.signed_in import SignedIn
from zestpail.desk.types import drafts, samples
from zestpail.store import Store
from zestpail.store.tables import Page, Sample


@pytest.fixture
def ready(store: Store, ines: SignedIn) -> Store:
    """A type with three samples, one of each form and one that is no picture."""
    drafts.begin_type(store, "Fuel delivery note", ines.id)
    for name in ("fuel-note-06.pdf", "fuel-note-03.jpg"):
        samples.add_sample(store, KEY, name, (NOTES / name).read_bytes(), ines.id)
    samples.add_sample(store, KEY, "letter.doc", b"Dear Sirs", ines.id)
    for sample_id in (1, 2, 3):
        samples.open_sample(store, sample_id)
    for page_id in ids(store, Page):
        samples.read_sample_page(store, page_id)
        samples.read_sample_page(store, page_id)  # a step done twice does nothing
    return store


def sample_of(
    store: Store, person: SignedIn, key: str, name: str, text: str, keep: Callable[[str, bytes], object] | None = None
) -> None:
    """A sample with these lines of print on a page of their own text, read."""
    lines = [PageToWrite(np.full((842, 595), 255, np.uint8), page(text))]
    data = searchable_pdf(lines, name)
    if keep:
        keep(name, data)
    else:
        samples.add_sample(store, key, name, data, person.id)
    for sample_id in sample_ids(store):
        samples.open_sample(store, sample_id)
    for page_id in ids(store, Page):
        samples.read_sample_page(store, page_id)


def sample_ids(store: Store) -> list[int]:
    with store.transaction() as session:
        return [number for number in session.exec(select(Sample.id)) if number]
