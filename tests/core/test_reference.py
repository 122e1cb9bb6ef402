"""Reference lists: files to entries, and which entry a paper speaks of, with what speaks for and against it."""

from __future__ import annotations

import io
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook

from tests.core.paper import document, page
from zestpail.core.checks import AgreesWithList, AgreesWithOrder, DocumentValues, InList
from zestpail.core.document_type import load_type
from zestpail.core.document_type.model import DocumentType, FieldRule
from zestpail.core.extraction.extract import extract, judge
from zestpail.core.extraction.extracted_value import Extraction
from zestpail.core.finders import FromList
from zestpail.core.kinds import Code, OneLine
from zestpail.core.problems import Unreadable
from zestpail.core.reference.by_values import Told, looked_up_by_values
from zestpail.core.reference.held import HeldLists
from zestpail.core.reference.likeness import likeness
from zestpail.core.reference.lines import Line, differences
from zestpail.core.reference.proposed import proposed_list
from zestpail.core.reference.reference_list import ListColumn, ReferenceList, Says
from zestpail.core.reference.table_file import table_in
from zestpail.core.reference.traces import tokens_for

CSV = """Lieferantennr;Name;USt-IdNr;IBAN;PLZ;Ort;Zahlungsziel
70001;Möwenbek Schiffsbedarf GmbH;XQ815550021;DE89370400440532013000;00000;Möwenbek;14
70002;Hallig & Söhne Kranservice KG;XQ300771940;DE02120300000000202051;24103;Osterwarf;30
"""
SUPPLIERS = ReferenceList(key="suppliers", name="Suppliers", columns=tuple(
    ListColumn(key=key, name=key, says=says)
    for key, says in (("number", "identifier"), ("name", "name"), ("vat", "vat_number"), ("iban", "iban"),
                      ("street", "street"), ("terms", ""), ("mark", "decimal_mark"), ("order", "date_order"))
))  # fmt: skip
ROWS = (
    {"number": "1", "name": "Tidewell Joinery Ltd", "vat": "XQ118042770", "iban": "DE89370400440532013000",
     "street": "4 Slip Road", "terms": "14", "order": "month"},
    {"number": "2", "name": "Tidewell Joinery LLP", "vat": "XQ118042771", "street": "9 Dock Lane", "terms": "30"},
    {"number": "3", "name": "Tidewells Joinery Ltd", "vat": "XQ118042772", "terms": "45"},
    {"number": "4", "name": "Fenwick Ropes Ltd", "vat": "XQ118042779", "terms": "21"},
)  # fmt: skip
LISTS = HeldLists([(SUPPLIERS, ROWS)])
STARTER = load_type("supplier-invoice")
LOOKED_UP = (
    FieldRule(key="number", name="Number", kind=Code(),
              finders=(FromList(list="suppliers", column="number", named_by="seller_name"),)),
    FieldRule(key="terms", name="Terms", kind=OneLine(),
              finders=(FromList(list="suppliers", column="terms", named_by="seller_name"),)),
)  # fmt: skip
CHECKS = (
    InList(field="seller_name", list="suppliers"),
    AgreesWithList(field="seller_iban", list="suppliers", column="iban"),
)
INVOICE = STARTER.model_copy(update={"fields": (*STARTER.fields, *LOOKED_UP), "checks": CHECKS})

PAPER = """
{name}
{street}
Ambleford AF3 9QT
{more}

Invoice
Invoice no. 77021
Date 03/09/2026

Bill to
Quillon Harbour Board
2 Customs Stairs
Quillon QX1 4HB

Total 1,465.20
"""


def read(
    name: str, street: str = "", more: str = "", lists: HeldLists = LISTS, doc_type: DocumentType = INVOICE,
    confidence: float = 0.96,
) -> Extraction:  # fmt: skip
    return extract(document(page(PAPER.format(name=name, street=street, more=more), confidence)), doc_type, lists=lists)


def number(found: Extraction) -> str | None:
    return next(value.value for value in found.values if value.key == "number")


def test_a_file_becomes_a_list_whose_columns_say_what_they_are() -> None:
    table = table_in(CSV.encode("cp1252"), "lieferanten.csv")
    assert (table.headings[0], table.rows[1][1]) == ("Lieferantennr", "Hallig & Söhne Kranservice KG")
    assert table.told == "Windows-1252, parted by semicolons"
    said = {column.name: column.says for column in proposed_list("s", "S", table).columns}
    assert said == {"Lieferantennr": "identifier", "Name": "name", "USt-IdNr": "vat_number", "IBAN": "iban",
                    "PLZ": "postcode", "Ort": "place", "Zahlungsziel": ""}  # fmt: skip

    book = Workbook()
    for row in (["No", "Paid", "No"], [7, 3.5, None], [None, None, None], [8.0, True, "x"]):
        book.active.append(row)
    book.save(out := io.BytesIO())
    table = table_in(out.getvalue())
    assert table.headings == ("No", "Paid", "No (2)")
    assert table.rows == (("7", "3.5", ""), ("8", "True", "x"))

    told = table_in(b'{"suppliers": [{"number": 1, "days_to_pay": 14}, {"number": 2, "vat": "XQ1"}]}')
    assert told.headings == ("Number", "Days to pay", "VAT") and told.rows == (("1", "14", ""), ("2", "", "XQ1"))


@pytest.mark.parametrize(
    ("content", "why"),
    [
        (b"", "The file is empty."),
        (b"a;b\n", "headings and no rows"),
        (b"PK\x03\x04 no book", "The workbook is damaged"),
        (b"\xff\xfea", "says that it is UTF-16"),
        (b"[1, 2]", "no list of records"),
        (b"[" * 100_000, "The JSON is damaged"),
        (bytes(range(32)) * 40, "is no table"),
        (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", "of the old kind"),
        (b";".join(b"c%d" % at for at in range(300)) + b"\nx", "300 columns"),
        (b"n\n" + b"1\n" * 300_001, "more than 300,000 rows"),
    ],
)
def test_what_is_no_list_is_refused_in_a_sentence(content: bytes, why: str) -> None:
    with pytest.raises(Unreadable, match=why):
        table_in(content, "list")


@given(st.lists(st.lists(st.text(alphabet="ab 1é,;'\n", min_size=1, max_size=8), min_size=2, max_size=4), min_size=2))
def test_whatever_a_csv_holds_its_rows_are_as_long_as_its_headings(rows: list[list[str]]) -> None:
    text = "\n".join(";".join('"' + cell.replace('"', '""') + '"' for cell in row) for row in rows)
    try:
        table = table_in(text.encode())
    except Unreadable:
        return
    assert all(len(row) == len(table.headings) for row in table.rows)
    assert len(set(table.headings)) == len(table.headings)


@pytest.mark.parametrize(
    ("seen", "listed", "slips", "form"),
    [
        ("HALLIG & SOHNE KRANSERVICE KG", "Hallig und Söhne Kranservice KG", 0.0, 1.0),
        ("Mueller Metallbau GmbH", "Müller Metallbau GmbH", 0.0, 1.0),
        ("Tidewell Joinery Limited", "Tidewell Joinery Ltd", 0.0, 1.0),
        ("Tidewe11 Joinery", "Tidewell Joinery Ltd", 0.5, 0.5),
        ("Tidewell Joinery Lid", "Tidewell Joinery Ltd", 0.5, 1.0),
        ("Tidewell Joinery AG", "Tidewell Joinery Ltd", 0.0, 0.0),
        ("Tidewells Joinery Ltd", "Tidewell Joinery Ltd", 1.0, 1.0),
        ("Depot 2 Ltd", "Depot Ltd", 3.0, 1.0),
    ],
)
def test_slips_of_ocr_set_names_less_apart_than_other_letters(
    seen: str, listed: str, slips: float, form: float
) -> None:
    like = likeness(seen, listed)
    assert (like.slips, like.form) == (slips, form)


@pytest.mark.parametrize(
    ("says", "one", "other"),
    [
        ("vat_number", "CHE-116.281.710 MWST", "CHE116281710"),
        ("vat_number", "GB 123 4567 89", "123456789"),
        ("email", "https://www.tidewell.example/shop", "orders@tidewell.example"),
        ("phone", "+44 (0)1632 960411", "01632 960411"),
        ("iban", "DE89 3704 0044 0532 0130 00", "DE89370400440532013000"),
    ],
)
def test_the_same_written_otherwise_is_the_same_trace(says: Says, one: str, other: str) -> None:
    assert set(tokens_for(says, one)) & set(tokens_for(says, other))


def test_an_address_anybody_can_have_tells_only_by_the_whole_of_it() -> None:
    assert not set(tokens_for("email", "ann@gmail.com")) & set(tokens_for("email", "bob@gmail.com"))


@pytest.mark.parametrize(
    ("name", "street", "more", "entry"),
    [
        ("Tidewell Joinery Ltd", "", "", "1"),
        ("TIDEWELL JOINERY LLP", "", "", "2"),
        ("Tidewell Joinery", "9 Dock Lane", "", "2"),
        ("Some Letterhead", "", "VAT XQ118042772", "3"),
        ("Tidewell Joinery", "", "IBAN DE89 3704 0044 0532 0130 00", "1"),
        ("Tidewell Joinery", "", "", None),  # may be either
        ("Tidewel Joiners Ltd", "", "", None),
        ("Tidewell Joinery Ltd", "", "VAT XQ909090909", None),  # a namesake with another number
        ("Corrie Lamps Ltd", "", "", None),
    ],
)
def test_the_entry_that_a_paper_speaks_of(name: str, street: str, more: str, entry: str | None) -> None:
    assert number(read(name, street, more)) == entry


def test_a_paper_that_is_hardly_legible_may_differ_in_look_alikes_and_one_that_is_legible_in_nothing() -> None:
    assert number(read("Fenw1ck R0pes Ltd", confidence=0.7)) == "4"
    assert number(read("Fenwich Ropes Ltd", confidence=0.97)) is None


def test_what_the_list_says_fills_fields_and_decides_which_comes_first_the_day_or_the_month() -> None:
    found = read("Tidewell Joinery Ltd", "4 Slip Road")
    values = {value.key: value for value in found.values}
    assert values["terms"].value == "14" and values["terms"].box is None
    assert values["terms"].reason.startswith("as the list Suppliers says of 1 Tidewell Joinery Ltd: its name")
    assert values["issue_date"].value == "2026-03-09"
    assert found.entries["suppliers"].entry == "1" and found.entries["suppliers"].likely[1].key == "3"
    plain = read("Fenwick Ropes Ltd")
    assert {value.key: value.value for value in plain.values}["issue_date"] == "2026-09-03"


def test_another_account_than_the_lists_is_an_alarm_and_an_unknown_maker_a_doubt() -> None:
    other = read("Tidewell Joinery Ltd", "4 Slip Road", "IBAN DE02 1203 0000 0000 2020 51")
    known, account = other.verdicts
    assert known.passed and not account.passed
    assert account.message == (
        "Supplier IBAN DE02120300000000202051 is not the iban of 1 Tidewell Joinery Ltd in “Suppliers”: there it is "
        "DE89370400440532013000."
    )
    assert account.offers[0].value == "DE89370400440532013000"
    [unknown] = read("Corrie Lamps Ltd").verdicts
    assert not unknown.passed and "is not known" in unknown.message
    assert read("Corrie Lamps Ltd", lists=HeldLists(())).verdicts == ()


def test_a_value_is_in_a_column_of_a_list() -> None:
    check = InList(field="no", list="suppliers", column="vat")

    def verdict(value: str | None) -> list[bool]:
        return [one.passed for one in judge([check], DocumentValues({"no": value}, {"no": "No."}, lists=LISTS))]

    assert (verdict("XQ 118-042-779"), verdict("XQ1"), verdict(None)) == ([True], [False], [])


ORDERS = """number;supplier;net;line code;line text;line quantity;line price
QHB-1;1;190.00;R-12;Mooring rope 32 mm, 8-strand;2;45.00
QHB-1;1;190.00;F-70;Pneumatic fender 0.7 m;10;10.00
QHB-2;1;50.00;S-04;Shackle bow 25 mm;5;10.00
QHB-3;4;190.00;R-12;Mooring rope 32 mm, 8-strand;2;45.00
"""


def orders() -> HeldLists:
    table = table_in(ORDERS.encode())
    model = proposed_list("orders", "Orders", table)
    keys = [column.key for column in model.columns]
    assert model.lined and model.identifying.key == "number"
    return HeldLists([(model, [dict(zip(keys, row, strict=True)) for row in table.rows])])


def rope(quantity: str = "2", price: str = "45.00") -> Line:
    return {"line_text": "MOORING ROPE 32 mm", "line_quantity": quantity, "line_price": price}


FENDER: Line = {"line_text": "Fender 0.7 m pneumatic", "line_quantity": "4", "line_price": "10"}


@pytest.mark.parametrize(
    ("rows", "tolerance", "found"),
    [
        ([rope(), FENDER], "0", []),
        ([FENDER], "0", []),  # less than was ordered, the rest may follow
        ([rope("3")], "0", ["row 1: quantity 3, 2 was ordered"]),
        ([FENDER, rope(price="46")], "0", ["row 2: price 46, 45 was agreed"]),
        ([rope(price="46")], "0.03", []),
        ([rope(), rope()], "0", ["row 2: “MOORING ROPE 32 mm” is not on the order, "]),
        ([{"line_text": "Consulting"}], "0", ["row 1: “Consulting” is not on the order, "]),
    ],
)
def test_rows_are_held_against_the_lines_of_an_order(rows: list[Line], tolerance: str, found: list[str]) -> None:
    entry = orders().entry("orders", "QHB-1")
    assert entry
    told = differences(rows, entry.lines_said(), Decimal(tolerance))
    assert [f"row {one.row}: {one.said}, {one.wanted}" for one in told] == found


def test_an_order_is_named_by_its_number_and_likely_ones_are_offered_where_none_is() -> None:
    named = looked_up_by_values(orders(), "orders", Told("qhb 2", ["1"]))
    assert named and named.entry and named.entry.key == "QHB-2"
    offered = looked_up_by_values(orders(), "orders", Told("", ["1"], ["190.00"], [rope(), FENDER]))
    assert offered and offered.entry is None and offered.best
    assert (offered.best.entry.key, [match.entry.key for match in offered.others]) == ("QHB-1", ["QHB-2"])
    assert offered.best.why == "2 of 2 lines, the same amount, the same supplier"
    assert looked_up_by_values(orders(), "elsewhere", Told("QHB-1")) is None


def test_the_check_against_an_order_says_each_difference_and_knows_its_columns() -> None:
    check = AgreesWithOrder(
        field="order", list="orders", text="lines.what", quantity="lines.many", price="lines.each",
        tolerance=Decimal(1),
    )  # fmt: skip
    assert check.sentence({"order": "Order"}) == (
        "The rows are what the order has in the reference list “orders”, but for 1 %."
    )
    rows = [{"what": "Mooring rope", "many": "3", "each": "45.10"}, {"what": "Consulting", "many": "1", "each": "9"}]
    entry = orders().entry("orders", "QHB-1")
    assert entry
    document_values = DocumentValues({"order": "QHB-1"}, {"order": "Order"}, {"lines": rows}, entries={"orders": entry})
    verdict = check.judge(document_values)
    assert verdict and not verdict.passed
    assert verdict.message == (
        "Against the order QHB-1, row 1: quantity 3, 2 was ordered; row 2: “Consulting” is not on the order."
    )
    assert check.judge(DocumentValues({"order": "QHB-1"}, {}, {"lines": rows})) is None
