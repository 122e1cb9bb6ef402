"""Invoices as data: read from both syntaxes, held against the standard's rules; hostile files end in a sentence."""

from __future__ import annotations

import re
from datetime import date
from decimal import Decimal
from io import BytesIO
from pathlib import Path

import numpy as np
import pikepdf
import pytest
from facturx import xml_check_xsd
from hypothesis import given
from hypothesis import strategies as st
from pikepdf import pdfa

from tests.core.paper import document, page
from zestpail.core.document_type import DocumentType, FieldRule, load_type
from zestpail.core.exchange.bindings import Syntax
from zestpail.core.exchange.invoice import Allowance, InvoiceData, InvoiceLine, TaxShare
from zestpail.core.exchange.of_values import Unwritable, invoice_of
from zestpail.core.exchange.parse import is_invoice, parse
from zestpail.core.exchange.rules import broken_rules
from zestpail.core.exchange.write import write
from zestpail.core.extraction.embedded import paper_alone, rows_by_data
from zestpail.core.extraction.extract import extract
from zestpail.core.extraction.extracted_value import ExtractedValue
from zestpail.core.finders import BesideLabel, EmbeddedData, SearchContext
from zestpail.core.kinds import Amount, Code, Date
from zestpail.core.problems import Unreadable
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.read import read_page
from zestpail.core.tables.find import find_table
from zestpail.core.writing.mail_pages import readable
from zestpail.core.writing.renditions import Written, rendered, told_apart
from zestpail.core.writing.searchable_pdf import PageToWrite
from zestpail.core.writing.value_files import DocumentValues, TableValues

FILES = Path(__file__).parent / "files"
CII, UBL = ((FILES / name).read_text() for name in ("cross-industry-invoice.xml", "credit-note.ubl.xml"))


def test_a_cross_industry_invoice_is_read_term_by_term() -> None:
    invoice = parse(CII.encode())
    assert (invoice.number, invoice.issue_date, invoice.due_date) == ("BB-204", date(2026, 3, 4), date(2026, 4, 3))
    assert (invoice.seller.name, invoice.seller.vat_id, invoice.seller.tax_id) == (
        "Bight & Bollard Ltd", "XQ123456789", "77/12",
    )  # fmt: skip
    assert (invoice.seller.postcode, invoice.buyer.name, invoice.order_reference) == (
        "QU1 2AB", "Quillon Harbour Board", "PO-9",
    )  # fmt: skip
    assert invoice.tax_total == Decimal("20.00"), "of two currencies the invoice's own"
    assert invoice.lines == (
        InvoiceLine(number="1", name="Mooring rope", quantity=Decimal(40), unit="MTR", price=Decimal("2.50"),
                    total=Decimal("100.00"), category="S", rate=Decimal(20)),
    )  # fmt: skip
    assert invoice.taxes[0].basis == Decimal("100.00")
    assert not invoice.credit_note
    assert broken_rules(invoice) == []


def test_a_universal_business_document_is_read_too() -> None:
    note = parse(UBL.encode())
    assert (note.number, note.credit_note, note.due_date) == ("CN 7", True, date(2026, 4, 3))
    assert (note.seller.name, note.seller.vat_id, note.seller.tax_id) == ("Bight & Bollard Ltd", "XQ1", "77/12")
    assert note.allowances == (Allowance(charge=True, amount=Decimal(5)),)
    assert (note.lines[0].quantity, note.lines[0].unit, note.tax_total) == (Decimal(2), "C62", Decimal("1.00"))


BOMB = '<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]><x>&b;</x>'
OUTSIDE = '<!DOCTYPE x [<!ENTITY f SYSTEM "file:///etc/passwd">]><x>&f;</x>'


@pytest.mark.parametrize(("data", "told"), [
    (BOMB, "definitions of its own"), (OUTSIDE, "definitions of its own"), ("", "damaged"), ("%PDF-1.7", "damaged"),
    ("<a><b></a>", "damaged"), ("<Invoice/>", "no electronic invoice"), ("\0" * 9, "damaged"),
    ("<a>" * 5000 + "</a>" * 5000, "damaged"),
    (CII.replace("20260304", "4 March"), "“4 March” where a day belongs"),
    (CII.replace(">120.00</ram:Grand", ">lots</ram:Grand"), "“lots” where a number belongs"),
    (CII.replace(">120.00</ram:Grand", ">NaN</ram:Grand"), "“NaN” where a number belongs"),
    (CII.replace(">120.00</ram:Grand", ">1E+999999</ram:Grand"), "where a number belongs"),
    (UBL.replace(">true<", ">perhaps<"), "does not belong where it stands"),
    ("<a>" + " " * 20_000_001 + "</a>", "larger than 20 MB"),
])  # fmt: skip
def test_what_is_no_invoice_or_hostile_ends_in_a_sentence(data: str, told: str) -> None:
    with pytest.raises(Unreadable, match=told):
        parse(data.encode())
    assert not is_invoice(data.encode()) or "belong" in told


PAPER = """
Bight & Bollard Ltd
Invoice number  BB-204
Invoice date    4 March 2026
Total           {total}
"""
ASKED = DocumentType(
    key="bill", name="Bill",
    fields=tuple(
        FieldRule(key=key, name=key, kind=kind, finders=(*finders, EmbeddedData(term=term)))
        for key, kind, term, finders in (
            ("number", Code(), "number", (BesideLabel(labels=("Invoice number",)),)),
            ("date", Date(), "issue_date", ()),
            ("total", Amount(), "grand_total", (BesideLabel(labels=("Total",)),)),
            ("tax", Amount(), "tax_total", ()),
        )
    ),
)  # fmt: skip


def read(total: str, data: str, doc_type: DocumentType = ASKED) -> dict[str, ExtractedValue]:
    carrying = page(PAPER.format(total=total)).model_copy(update={"data": data})
    return {value.key: value for value in extract(document(carrying), doc_type).values}


def test_what_the_data_say_is_taken_and_the_paper_is_held_against_it() -> None:
    found = read("120.00", CII)
    assert {key: value.value for key, value in found.items()} == {
        "number": "BB-204", "date": "2026-03-04", "total": "120.00", "tax": "20.00",
    }  # fmt: skip
    assert all(value.finder == "embedded_data" and not value.doubt for value in found.values())
    assert found["number"].confidence == found["total"].confidence > 0.99
    assert found["total"].box is not None, "where the paper says the same"
    assert (found["tax"].box, found["tax"].reason) == (None, "as the invoice's data say, not printed so")


def test_a_paper_that_says_otherwise_is_held() -> None:
    total = read("1,200.00", CII)["total"]
    assert (total.value, total.doubt) == ("120.00", "the paper says 1,200.00, the data say 120.00")
    assert total.confidence < 0.5
    assert total.box is not None, "the paper's own place is shown"
    assert [(other.value, other.why) for other in total.readings] == [("1200.00", "as printed")]


@pytest.mark.parametrize("data", ["", BOMB, CII.replace("20260304", "soon"), "<no-invoice/>"])
def test_without_data_that_can_be_read_the_paper_is_all_there_is(data: str) -> None:
    found = read("120.00", data)
    assert (found["total"].value, found["total"].finder, found["tax"].value) == ("120.00", "beside_label", None)
    assert read("120.00", CII, paper_alone(ASKED))["total"].finder == "beside_label"


def test_a_term_that_cannot_be_of_the_fields_kind_is_left() -> None:
    fields = (
        FieldRule(key="a", name="A", kind=Amount(), finders=(EmbeddedData(term="number"),)),
        FieldRule(key="b", name="B", kind=Amount(), finders=(EmbeddedData(term="issue_date"),)),
        FieldRule(key="c", name="C", kind=Date(), finders=(EmbeddedData(term="grand_total"),)),
    )
    found = read("120.00", CII, DocumentType(key="odd", name="Odd", fields=fields))
    assert [value.value for value in found.values()] == [None] * 3


def test_a_pdf_brings_its_data_with_its_first_page() -> None:
    pdf = pikepdf.new()
    for _ in range(2):
        pdf.add_blank_page(page_size=(300, 300))
    pdf.attachments["terms.txt"] = b"To be paid at once."
    pdf.attachments["data.xml"] = pikepdf.AttachedFileSpec(pdf, CII.encode(), mime_type="text/xml")
    out = BytesIO()
    pdf.save(out)
    first, second = (read_page(open_page(out.getvalue(), at)).reading for at in (0, 1))
    assert parse(first.data.encode()) == parse(CII.encode())
    assert second.data == ""


@pytest.mark.parametrize("text", [CII, UBL])
@pytest.mark.parametrize("syntax", ["cii", "ubl"])
def test_what_is_written_is_read_as_it_was(text: str, syntax: Syntax) -> None:
    invoice = parse(text.encode())
    assert parse(write(invoice, syntax)) == invoice


NOTHING = Decimal(0)
cents = st.integers(1, 900_000).map(lambda n: Decimal(n) / 100)


@st.composite
def invoices(draw: st.DrawFn) -> InvoiceData:
    """Invoices whose figures come out: lines at two rates, something taken off and put on top, a part paid."""
    rates = {"S": Decimal(20), "AA": Decimal("5.5")}
    lines = [
        InvoiceLine(number=str(at), total=draw(cents), category=category, rate=rates[category])
        for at, category in enumerate(draw(st.lists(st.sampled_from(sorted(rates)), min_size=1, max_size=6)))
    ]
    extra = [
        Allowance(charge=charge, amount=draw(cents), category=lines[0].category, rate=lines[0].rate)
        for charge in draw(st.lists(st.booleans(), max_size=3))
    ]
    off, on = (
        sum((one.amount or Decimal(0) for one in extra if one.charge == charge), Decimal(0)) for charge in (False, True)
    )
    taxes = []
    for category, rate in rates.items():
        mine = [line.total for line in lines if line.category == category and line.total]
        basis = sum(mine, Decimal(0)) + (on - off if category == lines[0].category else 0)
        if mine:
            taxes.append(
                TaxShare(
                    basis=basis, amount=(basis * rate / 100).quantize(Decimal("0.01")), category=category, rate=rate
                )
            )
    total = sum((line.total or Decimal(0) for line in lines), Decimal(0))
    net, tax = total - off + on, sum((share.amount or Decimal(0) for share in taxes), Decimal(0))
    paid = draw(st.one_of(st.none(), cents))
    return InvoiceData(
        lines=tuple(lines), allowances=tuple(extra), taxes=tuple(taxes), lines_total=total, allowances_total=off,
        charges_total=on, net_total=net, tax_total=tax, grand_total=net + tax, prepaid=paid,
        payable=net + tax - (paid or Decimal(0)),
    )  # fmt: skip


RULES = {
    "lines_total": "BR-CO-10", "allowances_total": "BR-CO-11", "charges_total": "BR-CO-12", "net_total": "BR-CO-13",
    "tax_total": "BR-CO-14", "grand_total": "BR-CO-15", "payable": "BR-CO-16",
}  # fmt: skip


@given(invoices(), st.sampled_from(sorted(RULES)), cents)
def test_figures_that_come_out_break_no_rule_and_any_other_its_own(
    invoice: InvoiceData, term: str, more: Decimal
) -> None:
    assert broken_rules(invoice) == []
    wrong = invoice.model_copy(update={term: getattr(invoice, term) + more})
    found = {one.rule: one.message for one in broken_rules(wrong)}
    assert "but the data say" in found[RULES[term]]
    first, *others = invoice.taxes
    off = first.model_copy(update={"amount": (first.amount or NOTHING) + Decimal("0.05")})
    found = {one.rule: "" for one in broken_rules(invoice.model_copy(update={"taxes": (off, *others)}))}
    assert "BR-CO-17" in found


TERMS = {
    "number": "BB-204", "issue_date": "2026-03-04", "due_date": "2026-04-03", "currency": "EUR", "iban": "XQ88000011",
    "order_reference": "QHB-1", "seller.name": "Bight & Bollard Ltd", "seller.vat_id": "XQ20488103",
    "buyer.name": "Quillon Harbour Board", "net_total": "200.00", "tax_total": "38.00", "grand_total": "238.00",
}  # fmt: skip
ROWS: list[dict[str, str | None]] = [
    {"item_code": "R-12", "description": "Rope\n220 m, one eye", "quantity": "3", "unit": "St", "unit_price": "50.00",
     "line_total": "150.00"},
    {"description": "Labour", "quantity": "2.5", "unit": "h", "unit_price": "22.00", "line_total": "50.00"},
    {"description": "carried over"},
]  # fmt: skip


@pytest.mark.parametrize("syntax", ["cii", "ubl"])
def test_reviewed_values_become_an_invoice_that_the_official_schema_and_the_rules_take(syntax: Syntax) -> None:
    made = invoice_of(TERMS, ROWS)
    assert [(one.name, one.description, one.quantity, one.unit, one.price, one.total) for one in made.lines] == [
        ("Rope", "220 m, one eye", Decimal(3), "C62", Decimal("50.00"), Decimal("150.00")),
        ("Labour", "", Decimal(1), "HUR", Decimal("50.00"), Decimal("50.00")),  # a discount is in its total only
    ]
    assert (made.taxes[0].rate, made.taxes[0].category, made.type_code) == (Decimal(19), "S", "380")
    xml = write(made, syntax)
    assert parse(xml) == made and broken_rules(made) == []
    assert xml_check_xsd(xml, flavor="factur-x" if syntax == "cii" else "ubl-2.1", level="en16931")


@pytest.mark.parametrize("syntax", ["cii", "ubl"])
def test_lines_that_say_their_tax_rate_make_a_share_of_each(syntax: Syntax) -> None:
    rows = [{**ROWS[0], "tax_rate": "19 %"}, {**ROWS[1], "tax_rate": "7.00"}, ROWS[2]]
    made = invoice_of({**TERMS, "tax_total": "32.00", "grand_total": "232.00"}, rows)
    assert [(share.rate, share.basis, share.amount) for share in made.taxes] == [
        (Decimal(7), Decimal("50.00"), Decimal("3.50")), (Decimal(19), Decimal("150.00"), Decimal("28.50")),
    ]  # fmt: skip
    xml = write(made, syntax)
    assert parse(xml) == made and broken_rules(made) == []
    assert xml_check_xsd(xml, flavor="factur-x" if syntax == "cii" else "ubl-2.1", level="en16931")
    with pytest.raises(Unwritable, match="BR-CO-14"):
        invoice_of({**TERMS, "tax_total": "32.01", "grand_total": "232.01"}, rows)
    with pytest.raises(Unwritable, match="Line 2 does not say its tax rate"):
        invoice_of(TERMS, [rows[0], ROWS[1]])
    with pytest.raises(Unwritable, match="which line has which"):
        invoice_of({**TERMS, "tax_total": "32.11", "grand_total": "232.11"}, ROWS)


def test_a_credit_note_says_in_positive_figures_what_it_takes_back() -> None:
    back = {**TERMS, "net_total": "-200.00", "tax_total": "-38.00", "grand_total": "-238.00"}
    made = invoice_of(back, [])
    assert (made.type_code, made.net_total, made.taxes[0].amount) == ("381", Decimal("200.00"), Decimal("38.00"))
    assert [(one.name, one.total) for one in made.lines] == [("As invoiced", Decimal("200.00"))]
    assert xml_check_xsd(write(made, "ubl"), flavor="ubl-2.1")


@pytest.mark.parametrize(
    ("terms", "rows", "told"),
    [
        ({"number": None, "buyer.name": ""}, ROWS, "The invoice does not say its number, the buyer."),
        ({"net_total": "x"}, ROWS, "“x” is no amount."),
        ({"issue_date": "soon"}, ROWS, "“soon” is no day."),
        ({"net_total": "190.00", "tax_total": "36.10", "grand_total": "226.10"}, ROWS, "BR-CO-13"),
        ({"grand_total": "239.00"}, ROWS, "The total with tax is 238.00, but the data say 239.00. (BR-CO-15)"),
        ({"net_total": "20000", "tax_total": "3333.33", "grand_total": "23333.33"}, [], "Its tax is of several rates"),
    ],
)
def test_values_that_make_no_valid_invoice_are_not_written(
    terms: dict[str, str | None], rows: list[dict[str, str | None]], told: str
) -> None:
    with pytest.raises(Unwritable, match=re.escape(told)):
        invoice_of({**TERMS, **terms}, rows)


def test_a_hybrid_invoice_is_pdf_a_3_and_brings_its_data_back() -> None:
    drawn = PageToWrite(np.full((400, 300), 255, np.uint8), page("Invoice BB-204"))
    values = DocumentValues("D1", "supplier-invoice", 1, [], {}, [TableValues("lines", "Lines", [], ROWS)], {}, TERMS)
    made = rendered(Written([drawn], "BB-204", values), "invoice_hybrid")
    assert made.suffix == ".pdf" and parse(open_page(made.data, 0).data.encode()).number == "BB-204"
    with pikepdf.open(BytesIO(made.data)) as pdf:
        assert pdf.Root.AF[0].AFRelationship == pikepdf.Name.Alternative
        said = bytes(pdf.Root.Metadata.read_bytes())
        assert b"EN 16931" in said and all(
            finding.rule.endswith("6.6.2.3.1-1") for finding in pdfa.check(pdf, pdfa.Flavour("3b")).findings
        ), "nothing but the words that it describes itself, which the checker does not look up"
    ubl = rendered(Written([drawn], "BB-204", values), "invoice_ubl")
    assert told_apart({"invoice_ubl": ubl.suffix, "invoice_cii": ".xml"}) == {
        "invoice_ubl": ".xml", "invoice_cii": " CII.xml",
    }  # fmt: skip


def test_an_invoice_that_comes_as_data_alone_gets_a_page_and_its_rows_are_the_datas() -> None:
    invoice = load_type("supplier-invoice")
    made = readable("BB-204.xml", CII.encode())
    reading = read_page(open_page(made, 0)).reading
    found = extract(DocumentReading((reading,)), invoice)
    values = {value.key: value for value in found.values}
    assert (values["invoice_number"].value, values["issue_date"].value) == ("BB-204", "2026-03-04")
    assert values["invoice_number"].finder == "embedded_data" and values["invoice_number"].box, "it stands on its page"
    [lines] = [table for table in found.tables if table.key == "lines"]
    told = parse(CII.encode()).lines
    assert [(row.value("quantity"), row.value("line_total")) for row in lines.rows] == [
        (f"{line.quantity:f}", f"{line.total:.2f}") for line in told
    ]
    with pytest.raises(Unreadable, match="no electronic invoice"):
        readable("other.xml", b"<html/>")
    with pytest.raises(Unreadable, match="definitions of its own"):
        readable("bomb.xml", b'<?xml version="1.0"?><!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>')


def test_rows_that_the_paper_prints_otherwise_are_doubted() -> None:
    data = write(invoice_of(TERMS, [*ROWS[:1], {**ROWS[1], "unit_price": "20.00"}]), "cii").decode()
    printed = """
    Description        Quantity   Unit price   Line total
    Rope                      3        50.00       150.00
    Labour                    1        50.00        60.00
    """
    paper = page(printed).model_copy(update={"data": data})
    table = load_type("supplier-invoice").table("lines")
    context = SearchContext(document(paper), ())
    read = find_table(SearchContext(document(page(printed)), load_type("supplier-invoice").labels), table, [])
    assert len(read.rows) == 2
    held = rows_by_data(context, table, read)
    assert [row.value("line_total") for row in held.rows] == ["150.00", "50.00"]
    doubted = held.rows[1].cells["line_total"]
    assert doubted.confidence < 0.5 and doubted.reason == "the paper says 60.00, the data say 50.00"
    assert held.rows[0].cells["line_total"].confidence > 0.99
