"""Codes that carry a payment, by open standards: made-up parties, and what each code says of them."""

from __future__ import annotations

import base64
import json

import pytest

from tests.core.paper import document, page
from zestpail.core.document_type import load_type
from zestpail.core.extraction.extract import extract
from zestpail.core.finders.payment.standards import payment_in
from zestpail.core.reading.page import Barcode

IBAN = "DE02120300000000202051"
EPC = f"BCD\n002\n1\nSCT\nBYLADEM1001\nWellenbau KG\n{IBAN}\nEUR849.78\n\n\nRechnung 77021"
SWISS = "\n".join(
    ["SPC", "0200", "1", "CH93 0076 2011 6238 5295 7", "S", "Ruderwerft AG", "Seestrasse", "4", "8000", "Zürich", "CH"]
    + [""] * 7
    + [
        "120.5",
        "CHF",
        "S",
        "Quillon Harbour Board",
        "Customs Stairs",
        "2",
        "9000",
        "Quillon",
        "CH",
        "NON",
        "",
        "",
        "EPD",
    ]
)
FISCAL = base64.b64encode(
    json.dumps(
        {"fecha": "2026-09-03", "cuit": 30500010912, "ptoVta": 3, "nroCmp": 1871, "importe": 121.0, "moneda": "PES"}
    ).encode()
).decode()


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (EPC, {"payee": "Wellenbau KG", "iban": IBAN, "currency": "EUR", "amount": "849.78"}),
        (
            SWISS,
            {
                "iban": "CH9300762011623852957", "payee": "Ruderwerft AG", "amount": "120.50", "currency": "CHF",
                "payer": "Quillon Harbour Board",
            },
        ),
        ("SPD*1.0*ACC:CZ6508000000192000145399*AM:450.00*CC:CZK*RN:LODNI SERVIS*X-VS:77021",
         {"iban": "CZ6508000000192000145399", "amount": "450.00", "currency": "CZK", "payee": "LODNI SERVIS"}),
        ("5862014417|PL|61109010140000071219812874|002193|Szkutnia sp. z o.o.|FV 18|||",
         {"tax_number": "5862014417", "iban": "PL61109010140000071219812874", "amount": "21.93", "currency": "PLN",
          "payee": "Szkutnia sp. z o.o."}),
        ("upi://pay?pa=saltmarsh@bank&pn=Saltmarsh%20Works&am=118.00&cu=INR",
         {"payee": "Saltmarsh Works", "amount": "118.00", "currency": "INR"}),
        ("00020126330014br.gov.bcb.pix0111123456789005204000053039865406123.455802BR5909ESTALEIRO6009SAO PAULO6304ABCD",
         {"payee": "ESTALEIRO", "amount": "123.45", "currency": "BRL"}),
        (f"https://www.afip.gob.ar/fe/qr/?p={FISCAL}",
         {"date": "2026-09-03", "tax_number": "30500010912", "number": "00003-00001871", "currency": "ARS",
          "amount": "121.00"}),
        ("A:123456789*B:999999990*C:PT*D:FT*E:N*F:20260903*G:FT A/18*H:0*N:23.00*O:123.00*Q:x",
         {"tax_number": "123456789", "number": "FT A/18", "date": "2026-09-03", "tax": "23.00", "amount": "123.00",
          "currency": "EUR"}),
    ],
)  # fmt: skip
def test_a_code_says_who_is_paid_and_how_much(text: str, says: dict[str, str]) -> None:
    assert payment_in(text) == says


@pytest.mark.parametrize(
    "text", ["", "BCD", "SPC\n0200", "QHB-5512", "00020153", "SPD*", "A:1*B:2", EPC[:40] + "\nEURx"]
)
def test_a_torn_code_or_another_one_says_nothing(text: str) -> None:
    assert "amount" not in payment_in(text)


def test_what_the_code_says_is_taken_where_nothing_else_tells_it() -> None:
    code = Barcode(symbology="QRCode", text=EPC, corners=((400, 600), (480, 600), (480, 680), (400, 680)))
    paper = page("Rechnung Nr. 77021\n\nGesamtbetrag 849,78").model_copy(update={"barcodes": (code,)})
    found = {value.key: value for value in extract(document(paper), load_type("supplier-invoice")).values}
    assert found["seller_iban"].value == IBAN
    assert found["seller_name"].value == "Wellenbau KG"
    assert found["seller_name"].reason == "as the payment code says"
    assert found["grand_total"].value == "849.78"
