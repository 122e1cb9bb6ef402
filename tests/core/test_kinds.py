"""Values in every style: what is spotted, what it means, and what is left alone."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zestpail.core.kinds import Amount, Code, Currency, Date, Firm, Iban, Number, Style, VatNumber, style_of
from zestpail.core.reading.lines import line_of_text

ENGLISH, GERMAN, MONTH_FIRST = Style(), Style(decimal_mark=","), Style(day_first=False)


@pytest.mark.parametrize(
    ("text", "style", "value"),
    [
        ("2026-09-03", ENGLISH, "2026-09-03"),
        ("03.09.2026", GERMAN, "2026-09-03"),
        ("3/9/26", ENGLISH, "2026-09-03"),
        ("9/3/26", MONTH_FIRST, "2026-09-03"),
        ("25/12/2026", MONTH_FIRST, "2026-12-25"),  # there is no 25th month
        ("3. September 2026", GERMAN, "2026-09-03"),
        ("3 Sept. 2026", ENGLISH, "2026-09-03"),
        ("1er août 2026", GERMAN, "2026-08-01"),
        ("September 3rd, 2026", ENGLISH, "2026-09-03"),
        ("12. März 2026", GERMAN, "2026-03-12"),
        ("3 de septiembre de 2026", GERMAN, "2026-09-03"),
        ("3. září 2026", GERMAN, "2026-09-03"),
        ("O3.09.2O26", GERMAN, "2026-09-03"),
        ("3 Septenber 2026", ENGLISH, "2026-09-03"),
        ("31.02.2026", GERMAN, None),
        ("0442.118.006", GERMAN, None),
        ("Order 2026", ENGLISH, None),
    ],
)
def test_dates(text: str, style: Style, value: str | None) -> None:
    assert Date().parse(text, style) == value


@pytest.mark.parametrize(
    ("text", "style", "value"),
    [
        ("1,316.40", ENGLISH, "1316.40"),
        ("1.316,40", GERMAN, "1316.40"),
        ("1 316,40", GERMAN, "1316.40"),
        ("1’316.40", ENGLISH, "1316.40"),
        ("1'234'316.40", ENGLISH, "1234316.40"),
        ("1,890.-", ENGLISH, "1890.00"),
        ("€ 12.50", ENGLISH, "12.50"),
        ("$1,024.00", ENGLISH, "1024.00"),
        ("-12.50", ENGLISH, "-12.50"),
        ("12.50-", ENGLISH, "-12.50"),
        ("(12.50)", ENGLISH, "-12.50"),
        ("I,3I6.4O", ENGLISH, "1316.40"),
        ("838, 58", GERMAN, "838.58"),
        ("640.0", ENGLISH, "640.00"),
        ("1,316", ENGLISH, "1316.00"),
        ("20 %", ENGLISH, None),
        ("03.09.2026", GERMAN, None),
        ("BB-20418", ENGLISH, None),
    ],
)
def test_amounts(text: str, style: Style, value: str | None) -> None:
    assert Amount().parse(text, style) == value


def test_amounts_in_neighbouring_columns_stay_apart() -> None:
    from tests.core.paper import document, page

    (line,) = document(page("Fender      12      418.50     5,022.00")).lines
    assert [span.value for span in Amount().spot(line, ENGLISH)] == ["12.00", "418.50", "5022.00"]


@given(st.decimals(min_value=0, max_value=Decimal("9999999.99"), places=2), st.sampled_from([",.", ".,", " ,", "’."]))
def test_an_amount_written_in_any_style_is_read_back(amount: Decimal, marks: str) -> None:
    thousands, point = marks
    text = f"{amount:,.2f}".replace(",", "\0").replace(".", point).replace("\0", thousands)
    assert Decimal(Amount().parse(text, Style(decimal_mark=point)) or "none") == amount


@given(st.dates(min_value=date(1990, 1, 1), max_value=date(2099, 12, 31)))
def test_a_date_is_read_back_in_its_documents_order(day: date) -> None:
    assert Date().parse(f"{day:%d/%m/%Y}", ENGLISH) == day.isoformat()
    assert Date().parse(f"{day:%m/%d/%Y}", MONTH_FIRST) == day.isoformat()
    assert Date().parse(f"{day:%d %B %Y}", ENGLISH) == day.isoformat()


def test_style_is_decided_by_all_evidence_together() -> None:
    german = tuple(line_of_text(t) for t in ("1.316,40", "03.04.2026", "0,7 m zu 12,50", "13.04.2026", "1.024.50"))
    american = tuple(line_of_text(t) for t in ("$1,316.40", "04/03/2026", "04/28/2026"))
    assert style_of(german) == Style(decimal_mark=",", day_first=True)
    assert style_of(american) == Style(decimal_mark=".", day_first=False)
    assert not style_of(tuple(line_of_text(t) for t in ("Total due $1,316.40", "Date 04/03/2026"))).day_first
    argentine = ("Importe total $ 1.316.40", "Fecha de la factura 1/11/2026")
    assert style_of(tuple(line_of_text(t) for t in argentine)).day_first, "dollars are written elsewhere too"


def test_codes_currencies_numbers_and_firms() -> None:
    def values(kind: Code | Currency | Number | Firm, text: str) -> list[str]:
        return [s.value for s in kind.spot(line_of_text(text), ENGLISH) if s.shape > 0.7]

    assert values(Code(), "No. VT/26-312 of 03.09.2026 over 12.50") == ["VT/26-312"]
    assert values(Currency(), "Total EUR 12 or £5, not EUROPE") == ["EUR", "GBP"]
    assert values(Currency(), "Betrag (Euro)") == ["EUR"]
    assert values(Number(), "10442 and 12.50 and A7") == ["10442"]
    assert values(Firm(), "from Hallig & Söhne Kranservice KG, Sitz Osterwarf") == ["Hallig & Söhne Kranservice KG"]
    assert values(Firm(), "18. 3. 2026 Möwenbek UG (haftungsbeschränkt)") == ["Möwenbek UG (haftungsbeschränkt)"]
    assert values(Firm(), "2026 Bight (North) Ltd (Head office)") == ["Bight (North) Ltd"]
    assert values(Firm(), "24 Hours Towage Ltda") == ["24 Hours Towage Ltda"]
    assert Amount().show("1316.40") == "1,316.40"


def test_a_vat_number_is_no_iban_and_a_telephone_no_amount() -> None:
    def tax_numbers(text: str) -> dict[str, float]:
        return {s.value: s.shape for s in VatNumber().spot(line_of_text(text), ENGLISH) if s.shape > 0.7}

    assert tax_numbers("TVA FR40303265045, P. IVA IT00743110157") == {"FR40303265045": 1.0, "IT00743110157": 1.0}
    assert tax_numbers("ABN 51 824 753 556, NIP 526-000-12-46") == {"51824753556": 1.0, "5260001246": 1.0}
    assert tax_numbers("GSTIN 27AAPFU0939F1ZV  Y-tunnus 2077474-0") == {"27AAPFU0939F1ZV": 1.0, "20774740": 1.0}
    assert tax_numbers("IE6914363SQ")["IE6914363SQ"] > 0.7, "letters are not taken for figures for nothing"
    assert tax_numbers("UID CHE-100.155.212 MWST") == {"CHE100155212": 1.0}
    assert tax_numbers("CNPJ 16.727.230/0001-97, CUIT 20-05536168-2") == {"16727230000197": 1.0, "20055361682": 1.0}
    assert tax_numbers("Btw NL812345671B01") == {"NL812345671B01": 0.75}, "no check figures that come out, but printed"
    assert tax_numbers("Avoir AV2026-00001") == {}, "no country begins so"
    assert tax_numbers("IFSC MCBK0001234") == {}, "letters go on after those of a country"
    assert tax_numbers("N.I.F. ESB12345678") == {"ESB12345678": 0.75}, "where numbers begin with a letter they may"
    assert Iban().parse("BE0 123 456 789", ENGLISH) is None
    assert list(Iban().spot(line_of_text("BE01 2345 6789"), ENGLISH)) == []
    for text in ("0461234567", "004412345678", "1234567890123"):
        assert list(Amount().spot(line_of_text(text), ENGLISH)) == []
    assert Amount().parse("1250", ENGLISH) == "1250.00"
    assert Amount().parse("0,50", ENGLISH) == "0.50"


@pytest.mark.parametrize(
    ("paper", "told"),
    [
        ("Invoice date 03/04/2026 and total of 12.50", False),
        ("Invoice date 03/04/2026 and total of £ 12.50", True),
        ("Invoice date 03/04/2026, total $12.50", False),
        ("Invoice date 03/04/2026, total $12.50, Gloucester, MA 01930", True),
        ("Invoice date 03/04/2026, due date 23/04/2026", True),
        ("Fecha de factura 03/04/2026", True),
    ],
)
def test_a_date_that_may_be_read_both_ways_is_ambiguous_where_nothing_tells(paper: str, told: bool) -> None:
    style = style_of((line_of_text(paper),))
    assert style.order_told == told
    assert Date().ambiguous("03/04/2026", style) is not told
    assert not Date().ambiguous("23/04/2026", style)
    assert not Date().ambiguous("03/03/2026", style)
