"""How right line items are on layouts that no rule was made on: the cell F1 of each is printed, and all are judged."""

from __future__ import annotations

import numpy as np
import pytest
from selenium import webdriver

from demo.make import Recipe, print_page, scanned, written
from tests.browser.conftest import open_browser
from tests.strangers.tables import LAYOUTS, Layout, items, truth
from zestpail.core.document_type import load_type
from zestpail.core.evaluation.measure import Tally
from zestpail.core.evaluation.rows import cell_tally
from zestpail.core.extraction.extract import extract
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.read import read_page

LEAST, LEAST_UGLY = 0.97, 0.8


def tallied(layout: Layout, browser: webdriver.Chrome) -> Tally:
    printed = print_page(layout.page(items(layout)), browser)
    if layout.damage:
        recipe = Recipe("stranger", 0, 0, "pdf-scan", layout.damage)
        printed = written(scanned(printed, recipe, layout.name), recipe)
    pages = tuple(read_page(open_page(printed, at)).reading for at in range(count_pages(printed)))
    found = next(t for t in extract(DocumentReading(pages), load_type("supplier-invoice")).tables if t.key == "lines")
    return cell_tally(found.values, truth(layout))


def test_line_items_of_strangers(capsys: pytest.CaptureFixture[str]) -> None:
    browser = open_browser()
    try:
        measured = {layout.name: tallied(layout, browser) for layout in LAYOUTS}
    finally:
        browser.quit()
    clean = [tally.f1 for name, tally in measured.items() if not name.startswith("ugly")]
    ugly = [tally.f1 for name, tally in measured.items() if name.startswith("ugly")]
    with capsys.disabled():
        for name, tally in measured.items():
            print(f"\n  {name:<30} cell F1 {tally.f1:.3f}, {tally.right} of {tally.there} cells right", end="")
        print(f"\n  {len(clean)} clean layouts {np.mean(clean):.3f}, {len(ugly)} ugly ones {np.mean(ugly):.3f}")
    assert len(clean) >= 12
    assert len(ugly) >= 3
    assert np.mean(clean) >= LEAST
    assert np.mean(ugly) >= LEAST_UGLY
