"""Tables on small hand-made readings: columns, rows, what is left out, what arithmetic mends, and what is proposed."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.core.paper import document, page
from zestpail.core.checks import ColumnSum, DocumentValues, RowProduct, RunningBalance
from zestpail.core.checks.check import Check
from zestpail.core.document_type import DocumentType, load_type
from zestpail.core.evaluation.rows import cell_tally
from zestpail.core.finders import SearchContext
from zestpail.core.kinds import Amount, Code, Date, Quantity, SeveralLines, style_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box, around
from zestpail.core.reading.page import PageReading
from zestpail.core.tables import Column, ExtractedTable, Grid, RowsBegin, Table
from zestpail.core.tables.find import body_on, find_table
from zestpail.core.tables.sum_lines import carried, opening, total
from zestpail.core.teaching.table_proposal import propose_table, shown_way

LINES = Table(key="lines", name="Lines", columns=(
    Column(key="code", name="Code", kind=Code(), headers=("Item",)),
    Column(key="text", name="Text", kind=SeveralLines(), headers=("Description", "Works"), needed=True),
    Column(key="qty", name="Qty", kind=Quantity(), headers=("Qty", "Menge")),
    Column(key="price", name="Price", kind=Amount(), headers=("Price",)),
    Column(key="amount", name="Amount", kind=Amount(), headers=("Amount",), needed=True),
))  # fmt: skip
PRODUCT = RowProduct(table="lines", multiply=("qty", "price"), equals="amount")
ENTRIES = Table(key="entries", name="Entries", columns=(
    Column(key="day", name="Date", kind=Date(), headers=("Date",), needed=True),
    Column(key="text", name="Text", kind=SeveralLines(), headers=("Details",)),
    Column(key="debit", name="Debit", kind=Amount(), headers=("Debit",)),
    Column(key="credit", name="Credit", kind=Amount(), headers=("Credit",)),
    Column(key="balance", name="Balance", kind=Amount(), headers=("Balance",), needed=True),
))  # fmt: skip
BALANCE = RunningBalance(table="entries", balance="balance", add="debit", subtract="credit")

INVOICE = """
Item    Description                     Qty     Price      Amount
R-12    Mooring rope 32 mm                2    418.50      837.00
        220 m coil, spliced
F-70    Pneumatic fender                  6     64.00      384.00

                                Net                      1,221.00
                                VAT 20 %                   244.20
"""
STATEMENT_1 = """
Date          Details                 Debit      Credit      Balance
              Brought forward                                 100.00
01.02.2026    Invoice 17              50.00                   150.00
03.02.2026    Payment                            30.00        120.00
              Carried forward                                 120.00
"""
STATEMENT_2 = """
Harbour statement, page 2

              Brought forward                                 120.00
04.02.2026    Invoice 18           1 200.00                 1 320.00
"""


def find(table: Table, *pages: str | PageReading, checks: tuple[Check, ...] = ()) -> ExtractedTable:
    read = document(*(one if isinstance(one, PageReading) else page(one) for one in pages))
    return find_table(SearchContext(read, ()), table, checks)  # type: ignore[arg-type]


def column(found: ExtractedTable, key: str) -> list[str | None]:
    return [row.value(key) for row in found.rows]


def test_columns_under_unknown_headers_are_told_by_their_currency_and_their_codes() -> None:
    lines = """
Description            Jednotek      Price        Amount         S dani
Mooring rope               2 ks     418.50 €     837.00 €     1004.40 €
Fender                     6 ks      64.00 €     384.00 €      460.80 €
"""
    found = find(LINES, lines, checks=(PRODUCT,))
    assert column(found, "qty") == ["2", "6"], "what is in euros is no quantity"
    assert column(found, "code") == [None, None], "a figure with its unit is no code"


def test_a_column_headed_item_is_codes_or_the_text_by_what_stands_in_it() -> None:
    names = """
Item                             Qty     Price      Amount
Mooring rope                       2    418.50      837.00
Fender 60                          6     64.00      384.00
Hawser, spliced, 220 m             1     21.00       21.00
"""
    codes = names.replace("Mooring rope  ", "R-12          ").replace("Fender 60", "F-70     ")
    assert column(find(LINES, names, checks=(PRODUCT,)), "text")[:2] == ["Mooring rope", "Fender 60"]
    assert column(find(LINES, codes, checks=(PRODUCT,)), "code")[:2] == ["R-12", "F-70"]


def test_columns_are_found_by_headers_and_rows_by_their_amount() -> None:
    found = find(LINES, INVOICE, checks=(PRODUCT,))
    assert column(found, "text") == ["Mooring rope 32 mm\n220 m coil, spliced", "Pneumatic fender"]
    assert column(found, "qty") == ["2", "6"]
    assert column(found, "amount") == ["837.00", "384.00"]
    assert [row.proven for row in found.rows] == [True, True]
    assert {line.why for line in found.left_out} == {"a total"}
    assert found.rows_begin == "a row begins at text in the column Amount"


def test_columns_in_another_order_and_one_missing() -> None:
    other = """
Menge    Works                    Amount
    3    Survey of the hull       300.00
    1    Report                    80.00
"""
    found = find(LINES, other)
    assert (column(found, "qty"), column(found, "amount")) == (["3", "1"], ["300.00", "80.00"])
    assert column(found, "code") == [None, None]


def test_a_table_goes_on_over_pages_without_carried_lines() -> None:
    found = find(ENTRIES, STATEMENT_1, STATEMENT_2, checks=(BALANCE,))
    assert column(found, "day") == ["2026-02-01", "2026-02-03", "2026-02-04"]
    assert column(found, "balance") == ["150.00", "120.00", "1320.00"]
    assert column(found, "debit") == ["50.00", None, "1200.00"], "1 200.00 is one number"
    assert [row.proven for row in found.rows] == [True, True, True], "from what was brought forward on"
    assert [line.why for line in found.left_out] == ["a sum carried on"] * 3


@pytest.mark.parametrize(
    ("printed", "key", "value", "reason"),
    [
        ("R-12    Mooring rope                           418.50      837.00", "qty", "2", "calculated"),
        ("R-12    Mooring rope                 2        418.50     torn away", "amount", "837.00", "calculated"),
        ("R-12    Mooring rope                        2,418.50      837.00", "qty", "2", "parted"),
        ("R-12    Mooring rope                        3,418.50      837.00", "qty", None, ""),
        ("R-12    Mooring rope                        2418.50       837.00", "qty", "2", "parted"),
    ],
)
def test_what_is_missing_is_worked_out(printed: str, key: str, value: str | None, reason: str) -> None:
    header, second = INVOICE.splitlines()[1], INVOICE.splitlines()[4]
    found = find(LINES, "\n".join([header, printed, second]), checks=(PRODUCT,))
    cell = found.rows[0].cells.get(key)
    assert (cell.value if cell else None) == value
    assert bool(cell and cell.reason) == bool(reason)
    assert not reason or (cell and cell.reason.startswith(reason)), "and says so"


def test_a_misread_figure_is_the_one_that_makes_the_row_come_out() -> None:
    read = page(INVOICE)
    words = list(read.words)
    at = next(n for n, word in enumerate(words) if word.text == "837.00")
    seven = words[at].symbols[2].model_copy(update={"text": "1", "alternatives": (("7", 0.3),)})
    symbols = (*words[at].symbols[:2], seven, *words[at].symbols[3:])
    words[at] = words[at].model_copy(update={"text": "831.00", "symbols": symbols})
    found = find(LINES, read.model_copy(update={"words": tuple(words)}), checks=(PRODUCT,))
    assert column(found, "amount")[0] == "837.00"
    assert "as then the row comes out" in found.rows[0].cells["amount"].reason
    wrong = find(LINES, INVOICE.replace("837.00", "831.00"), checks=(PRODUCT,))
    assert (wrong.rows[0].proven, column(wrong, "amount")[0]) == (False, "831.00"), "nothing is made up"


def test_a_balance_tells_an_amount_that_cannot_be_read() -> None:
    found = find(ENTRIES, STATEMENT_1.replace(" 30.00 ", " ##### "), checks=(BALANCE,))
    assert column(found, "credit") == [None, "30.00"]
    assert found.rows[1].cells["credit"].reason == "calculated from the balances"


def test_a_cell_is_cut_across() -> None:
    second = Column(key="more", name="More", kind=SeveralLines(), of="text", part="other_lines")
    unit = Column(key="unit", name="Unit", kind=SeveralLines(), of="qty", part="letters")
    table = LINES.model_copy(update={"columns": (*LINES.columns, second, unit)})
    found = find(table, INVOICE.replace("    2    418", " 2 pcs   418"))
    assert column(found, "text") == ["Mooring rope 32 mm", "Pneumatic fender"]
    assert column(found, "more") == ["220 m coil, spliced", None]
    assert (column(found, "unit"), column(found, "qty")) == (["pcs", None], ["2", "6"])


def test_a_row_that_is_shown_says_how_rows_begin() -> None:
    read = page(INVOICE)
    context = SearchContext(document(read), ())
    body = body_on(context, LINES, 0)
    both = around([body[0].box, body[1].box]).grown(2)
    shown = shown_way(body, (), LINES, both)
    assert shown
    assert (shown[0].stands, shown[1]) == ("head", 2)
    one = shown_way(body, (), LINES, body[1].box.grown(1))
    assert one == (RowsBegin(by="every_line"), 3)
    assert find(LINES.model_copy(update={"rows_begin": one[0]}), INVOICE).rows[1].value("text") == "220 m coil, spliced"


def test_dividers_moved_by_hand_hold_for_the_layout_alone() -> None:
    read = document(page(INVOICE))
    header = read.lines[0]
    columns = ("code", "text", "qty", "", "amount")
    grid = Grid(header=header.text, left=header.box.x0, dividers=(30, 180, 220, 270), columns=columns)
    table = LINES.model_copy(update={"grids": (grid,)})
    assert column(find(table, INVOICE), "price") == [None, None], "what is left out is left out"
    strip = find(LINES, INVOICE).strips[0]
    assert strip.grid.columns == ("code", "text", "qty", "price", "amount")
    added = strip.divided(strip.dividers[0] + 40, "more")
    assert added and added.columns == ("code", "text", "more", "qty", "price", "amount")
    assert strip.divided(strip.dividers[1] + 1, "more") is None, "a divider stands there already"
    assert strip.joined(1).columns == ("code", "text", "price", "amount")
    assert strip.moved(0, 9999).dividers[0] < strip.grid.dividers[1], "never over its neighbour"
    other = INVOICE.replace("Item    Description", "Code    What it is ")
    assert column(find(table, other), "price") == ["418.50", "64.00"]


def test_a_layout_is_known_again_by_a_header_of_two_lines() -> None:
    two = INVOICE.replace("Item    Description", "Item    Works      ").replace("\nR-12", "\nNo.     done\nR-12", 1)
    header = find(LINES, two).strips[0]
    assert header.header.startswith("Item Works")
    moved = tuple(divider - header.left + 5 for divider in header.dividers)
    grid = Grid(header=header.header, left=header.left, dividers=moved, columns=header.columns)
    found = find(LINES.model_copy(update={"grids": (grid,)}), two)
    assert found.strips[0].dividers == pytest.approx([divider + 5 for divider in header.dividers])


def test_drawing_round_a_table_proposes_it() -> None:
    read = document(page(INVOICE))
    box = around(line.box for line in read.lines[:4]).grown(3)
    table = propose_table(read, 0, box, (), style_of(read.lines))
    assert table
    assert [c.name for c in table.columns] == ["Item", "Description", "Qty", "Price", "Amount"]
    kinds = [c.kind.kind for c in table.columns]
    assert kinds == ["code", "lines", "quantity", "amount", "amount"]
    assert column(find(table, INVOICE), "amount") == ["837.00", "384.00"]
    assert propose_table(read, 0, Box(400, 700, 500, 760), (), style_of(read.lines)) is None


WEIGHTS = """
North berth          26.11.2026       2.620     1,00
South quay           27.11.2026       1.480     2,00
Slipway              27.11.2026       3.905     2,50
"""


def proposed(text: str, lines: int, headed: bool | None = None) -> Table:
    """What is proposed for a box round the first lines of a page."""
    read = document(page(text))
    box = around(line.box for line in read.lines[:lines]).grown(3)
    table = propose_table(read, 0, box, (), style_of(read.lines), headed)
    assert table
    return table


def test_a_table_without_a_header_keeps_its_first_row() -> None:
    table = proposed(WEIGHTS, 3)
    assert [c.name for c in table.columns] == ["Column 1", "Column 2", "Column 3", "Column 4"]
    assert column(find(table, WEIGHTS), "column_1") == ["North berth", "South quay", "Slipway"]
    other = "Weights of today" + WEIGHTS.replace("North berth", "Dry dock   ").replace("26.11", "28.11")
    assert column(find(table, other), "column_1") == ["Dry dock", "South quay", "Slipway"], "known again without one"
    texts = "Crane    Harbour\nPilot    Outer roads\nTug      Inner roads"
    assert proposed(texts, 3, headed=True).columns[0].name == "Crane", "only a person can tell"


def test_a_number_whose_style_is_not_certain_is_a_doubt() -> None:
    table = proposed(WEIGHTS, 3)
    doubted = find(table, WEIGHTS).rows[0].cells["column_3"]
    assert (doubted.value, doubted.confidence, doubted.reason) == ("2620", 0.5, "2.620 may be 2.62 or 2620")
    told = find(table, WEIGHTS.replace("3.905", "0.905"))
    assert (column(told, "column_3"), told.rows[0].cells["column_3"].confidence) == (["2.62", "1.48", "0.905"], 0.984)
    three = table.columns[2].model_copy(update={"decimals": "point"})
    said = table.model_copy(update={"columns": (*table.columns[:2], three, table.columns[3])})
    assert column(find(said, WEIGHTS), "column_3") == ["2.62", "1.48", "3.905"], "as the column was told"


def test_a_table_ends_where_the_box_drawn_round_it_did() -> None:
    below = "\n\n\nNotes of 12 men         03.04.2026       1.000     9,00"
    gap = proposed(WEIGHTS.rstrip() + below, 3)
    assert gap.ends_after_gap > 0
    assert len(find(gap, WEIGHTS.rstrip() + below).rows) == 3
    far = proposed(WEIGHTS.rstrip() + "\n" * 60 + below, 3)
    assert far.ends_after_gap == 20, "as wide as a gap can be asked to be"
    words = WEIGHTS.rstrip() + "\nOther weights" + WEIGHTS
    assert len(find(proposed(words, 3), words).rows) == 3
    assert "“Other weights”" in proposed(words, 3).sentence
    assert proposed(WEIGHTS, 2).ends_after_gap == 0, "what was drawn round in part goes on"


def test_headers_of_two_levels_and_columns_without_one() -> None:
    two = """
             2025              2026
Berth     Calls    Tons     Calls    Tons
North        12    40.5        14    41.5
South         8    20.5         9    22.0
"""
    table = proposed(two, 4)
    assert [c.name for c in table.columns] == ["Berth", "2025 Calls", "2025 Tons", "2026 Calls", "2026 Tons"]
    assert column(find(table, two), table.columns[3].key) == ["14", "9"]
    unnamed = INVOICE.replace("Qty     Price", "        Price")
    table = proposed(unnamed, 4)
    assert [c.name for c in table.columns] == ["Item", "Description", "Column 3", "Price", "Amount"]
    assert column(find(table, unnamed), "column_3") == ["2", "6"]


def test_a_printed_figure_is_not_replaced_unseen() -> None:
    torn = "\n".join([INVOICE.splitlines()[1], "R-12    Mooring rope                        2,418.50      837.00"])
    exact = page(torn).model_copy(update={"source": "text_layer"})
    row = find(LINES, exact, checks=(PRODUCT,)).rows[0]
    assert (row.proven, row.cells["price"].confidence < 0.6) == (None, True)
    unread = INVOICE.replace("418.50", "4#18.5")
    row = find(LINES, unread, checks=(PRODUCT,)).rows[0]
    assert (row.value("price"), row.proven) == ("418.5", None)
    assert row.cells["price"].confidence < 0.6


@pytest.mark.parametrize(
    ("text", "is_carried", "is_total"),
    [
        ("Übertrag auf Seite 2", True, False), ("Saldovortraġ 8.776,88", True, False), ("À reporter", True, False),
        ("with report and photographs", False, False), ("zzgl. 19 % MwSt.", False, True),
        ("Total net", False, True), ("Totally new mast", False, False), ("Carried forward 12.00", True, False),
    ],
)  # fmt: skip
def test_lines_that_are_no_rows(text: str, is_carried: bool, is_total: bool) -> None:
    assert (carried(text), total(text)) == (is_carried, is_total)
    assert opening("Brought forward")


def test_checks_over_rows_name_the_rows_and_by_how_much() -> None:
    names = {"lines.qty": "Quantity", "lines.price": "Price", "lines.amount": "Amount", "net": "Net"}
    rows = [{"qty": "2", "price": "3.00", "amount": "6.00"}, {"qty": "2", "price": "3.00", "amount": "7.00"}]
    message = PRODUCT.judge(DocumentValues({}, names, {"lines": rows}))
    assert message
    assert (message.passed, message.message) == (False, "In row 2 this is not so: quantity × price makes amount.")
    added = ColumnSum(table="lines", column="amount", equals="net")
    failed = added.judge(DocumentValues({"net": "31.00"}, names, {"lines": rows}))
    assert failed
    assert failed.message.startswith("The amount of 2 rows makes 13.00, net says 31.00 (18.00 more).")
    assert failed.offers[0].value == "13.00"
    assert BALANCE.judge(DocumentValues({}, names, {})) is None


def test_a_type_with_a_check_of_no_such_column_is_refused() -> None:
    with pytest.raises(ValidationError, match=r"columns that are not there: lines\.qty"):
        DocumentType(key="a", name="A", fields=(), checks=(PRODUCT,))
    with pytest.raises(ValidationError, match="one column more than dividers"):
        Grid(header="x", left=0, dividers=(1, 2), columns=("a",))


def test_rows_are_aligned_before_cells_are_counted() -> None:
    wanted = [{"a": "1", "b": "x"}, {"a": "2", "b": "y"}, {"a": "3", "b": None}]
    tally = cell_tally([{"a": "2", "b": "y"}, {"a": "9", "b": "z"}, {"a": "3", "b": None}], wanted)
    assert (tally.right, tally.found, tally.there) == (3, 5, 5)


@given(st.lists(
    st.tuples(st.integers(1, 99), st.integers(100, 99999), st.sampled_from(["Rope", "Steel wire", "Long work bench"])),
    min_size=1, max_size=12,
))  # fmt: skip
def test_every_printed_row_is_found_and_proven(rows: list[tuple[int, int, str]]) -> None:
    lines = ["Item    Description              Qty       Price        Amount"]
    for at, (quantity, cents, text) in enumerate(rows):
        price = Decimal(cents) / 100
        lines.append(f"A-{at + 10}    {text:<20}{quantity:>8}{price:>12,.2f}{quantity * price:>14,.2f}")
    found = find(LINES, "\n".join(lines), checks=(PRODUCT,))
    assert column(found, "qty") == [str(quantity) for quantity, _, _ in rows]
    assert column(found, "text") == [text for _, _, text in rows]
    assert all(row.proven for row in found.rows)


def test_an_empty_document_has_no_rows() -> None:
    assert find_table(SearchContext(DocumentReading(()), ()), LINES).rows == ()
    assert find(LINES, "nothing of the kind here").rows == ()


def test_columns_of_money_are_told_by_what_multiplies_out_and_positions_are_no_text() -> None:
    text = """
    Item                      Qty    Price    Net      Price incl. tax   Total
    1 Rope 12 mm               10     4.50    45.00             54.45    54.45
    2 Fender                    2    32.00    64.00             77.44    77.44
    3 Shackle                   4     5.25    21.00             25.41    25.41
    """
    lines = load_type("supplier-invoice").tables[0]
    checks = load_type("supplier-invoice").checks
    rows = find_table(SearchContext(document(page(text)), ()), lines, checks).rows
    assert [row.value("description") for row in rows] == ["Rope 12 mm", "Fender", "Shackle"]
    assert [(row.value("unit_price"), row.value("line_total")) for row in rows] == [
        ("4.50", "45.00"), ("32.00", "64.00"), ("5.25", "21.00"),
    ]  # fmt: skip


def test_a_price_with_nothing_to_multiply_it_with_is_the_amount() -> None:
    text = "Polozka                   Cena\nKontrola              3 200,00\nPlneni                1 920,00"
    type_ = load_type("supplier-invoice")
    rows = find_table(SearchContext(document(page(text)), ()), type_.tables[0], type_.checks).rows
    assert [row.value("line_total") for row in rows] == ["3200.00", "1920.00"]
