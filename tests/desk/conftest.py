"""What several tests of the desk begin with."""

from __future__ import annotations

import pytest

from tests.desk.flow import ids
from tests.desk.type_flow import KEY, NOTES
from zestpail.desk.people.people import SignedIn
from zestpail.desk.types import drafts, samples
from zestpail.store import Store
from zestpail.store.tables import Page


@pytest.fixture
def ready(store: Store, ines: SignedIn) -> Store:
    """A type with three samples, one of each form and one that is no picture."""
    drafts.begin_type(store, "Fuel delivery note", ines.id)
    for name in ("fuel-note-06.pdf", "fuel-note-03.jpg"):
        samples.add_sample(store, KEY, name, (NOTES / name).read_bytes(), ines.id)
    samples.add_sample(store, KEY, "letter.txt", b"Dear Sirs", ines.id)
    for sample_id in (1, 2, 3):
        samples.open_sample(store, sample_id)
    for page_id in ids(store, Page):
        samples.read_sample_page(store, page_id)
        samples.read_sample_page(store, page_id)  # a step done twice does nothing
    return store
