"""Tables as papers of other makers print them: headers of several words, prices by their sign, sums without a word."""

from __future__ import annotations

from tests.core.paper import document, page
from tests.core.test_tables import LINES, PRODUCT, column, find
from zestpail.core.document_type import load_type
from zestpail.core.finders import SearchContext
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import PageReading
from zestpail.core.tables.find import find_table


def closer(reading: PageReading, *texts: str) -> PageReading:
    """The page with these words moved to the one before them, so that but a blank is between."""
    by = {word.text: Box(word.box.x0 - 2, word.box.y0, word.box.x1 - 2, word.box.y1) for word in reading.words}
    words = tuple(
        w.model_copy(update={"box": by[w.text], "symbols": ()} if w.text in texts else {}) for w in reading.words
    )
    return reading.model_copy(update={"words": words})


def test_headers_keep_their_words_prices_their_sign_and_a_line_of_nothing_but_total_is_none() -> None:
    invoice = """
#    Item Names               HSN Code     Qty     ₹/Unit     Tax Amt       Total
1    Marine plywood - grade    44121        12       1850        3996       26196
     18 mm
2    Epoxy resin               39073         4       2240      1612.8     10572.8

     Total                                  16                5608.80    36768.80
"""
    summary = """
Rate         Taxable                                                        Total
9 %           31160        16     2804.40                                 5608.80
"""
    type_ = load_type("supplier-invoice")
    read = document(closer(page(invoice), "Names", "Code", "Amt", "-"), page(summary))
    found = find_table(SearchContext(read, ()), type_.tables[0], type_.checks)
    rows = [row for row in found.rows if row.page == 0]
    assert [row.value("description") for row in rows] == ["Marine plywood - grade\n18 mm", "Epoxy resin"]
    assert [row.value("unit_price") for row in rows] == ["1850.00", "2240.00"]
    assert {row.page for row in found.rows} == {0}, "after the sum of all, another table has its own header"
    assert any(out.text.startswith("Total") and out.why == "a total" for out in found.left_out)


def test_without_a_header_the_number_with_cents_is_the_price() -> None:
    rows = find(
        LINES, "Vermessung    95.00     8    760.00\nBericht       80.00    12    960.00", checks=(PRODUCT,)
    ).rows
    assert [(row.value("qty"), row.value("price")) for row in rows] == [("8", "95.00"), ("12", "80.00")]


def test_an_amount_without_a_word_that_the_rows_add_up_to_is_their_sum() -> None:
    rows = "Item   Description    Amount\nR-12   Rope           837.00\nF-70   Fender         384.00\n"
    found = find(LINES, rows + "                     1,221.00")
    assert column(found, "amount") == ["837.00", "384.00"]
    assert [(out.text, out.why) for out in found.left_out] == [("1,221.00", "a total")]
    assert len(find(LINES, rows + "                     1,222.00").rows) == 3
