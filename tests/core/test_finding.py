"""How a value is found beside its label, kept from other labels, and chosen together with its neighbours."""

from __future__ import annotations

from tests.core.paper import document, page
from zestpail.core.document_type import DocumentType, load_type
from zestpail.core.extraction.choose import choose
from zestpail.core.extraction.extract import ExtractedValue, Extraction, extract
from zestpail.core.finders import Candidate
from zestpail.core.landmarks.labels import Label, match_labels
from zestpail.core.reading.geometry import Box, around

INVOICE = load_type("supplier-invoice")

PLAIN = """
Bight & Bollard Ltd                     INVOICE
Quillon Harbour Board         Invoice no.  BB-20418
2 Customs Stairs              Date         03.09.2026
Quillon QX1 4HB               Due          03.10.2026

Your order: QHB-5512

Item    Description               Qty      Amount
R-12    Mooring rope 32 mm          2      837.00
F-70    Pneumatic fender            6      384.00

                              Net        1,221.00
                              VAT 20 %     244.20
                              Total EUR  1,465.20
"""


def found(reading: Extraction) -> dict[str, str | None]:
    return {value.key: value.value for value in reading.values}


def value(reading: Extraction, key: str) -> ExtractedValue:
    return next(v for v in reading.values if v.key == key)


def test_an_ordinary_invoice() -> None:
    reading = extract(document(page(PLAIN, size={0: 16})), INVOICE)
    assert found(reading) == {
        "seller_name": "Bight & Bollard Ltd",
        "seller_vat_id": None,
        "seller_iban": None,
        "buyer_name": "Quillon Harbour Board",
        "order_reference": "QHB-5512",
        "invoice_number": "BB-20418",
        "issue_date": "2026-09-03",
        "due_date": "2026-10-03",
        "currency": "EUR",
        "net_total": "1221.00",
        "tax_total": "244.20",
        "grand_total": "1465.20",
    }
    assert all(verdict.passed for verdict in reading.verdicts)
    number = value(reading, "invoice_number")
    assert number.reason == "right of “Invoice no.”"
    assert number.box == around(s.box for w in page(PLAIN).words if w.text == "BB-20418" for s in w.symbols)
    assert set(number.candidates[0].parts) == {"label", "near", "direction", "shape", "reading"}


def test_an_amount_in_a_row_of_the_table_is_not_taken_for_the_total_unasked() -> None:
    lines = """
        Bight & Bollard Ltd
        Invoice no. BB-20418       Invoice date 3 September 2026

        Description          Quantity    Unit price     Total
        Decking board              45         18.20    819.00
        Coach screw               200          0.34     68.00
        Delivery                    1         65.00     65.00
    """
    reading = extract(document(page(lines, size={0: 16})), load_type("supplier-invoice"))
    assert [row.value("line_total") for row in reading.tables[0].rows] == ["819.00", "68.00", "65.00"]
    total = value(reading, "grand_total")
    assert total.value is None or total.confidence < 0.9, "no figure of a line passes for the sum of all"
    assert total.candidates
    assert all("row" in one.parts or one.value == "2026.00" for one in total.candidates), "all but the date's year"


def test_a_value_on_the_second_page_under_a_garbled_label_in_another_language() -> None:
    first = page("Voilerie Trémarec SAS\n\nFacture VT/26-312\nPort-Trémarec, le 3 juillet 2026")
    second = page("Montant hors taxes     1 024,00 EUR\nTVA à 20 %    204,80 EUR\n\nNet à paycr\n1 228,80 EUR")
    reading = extract(document(first, second), INVOICE)
    total = value(reading, "grand_total")
    assert (total.value, total.page, total.reason) == ("1228.80", 1, "under “Net à paycr”")
    assert found(reading)["invoice_number"] == "VT/26-312"
    assert found(reading)["issue_date"] == "2026-07-03"


def test_the_longest_label_has_the_place_and_labels_of_no_field_keep_theirs() -> None:
    labels = [Label("Total", "grand"), Label("Total net", "net"), Label("Order no.", None), Label("No.", "number")]
    lines = document(page("Total net   5.00\nTota1   6.00\nOrder no.   77\nTotalitarian")).lines
    matches = {(m.label.text, m.line.text) for m in match_labels(lines, labels)}
    assert matches == {
        ("Total net", "Total net\t5.00"),
        ("Total", "Tota1\t6.00"),
        ("Order no.", "Order no.\t77"),
    }


def test_a_customer_number_is_not_the_invoice_number() -> None:
    reading = extract(document(page("Rechnung     Kundennummer 10442\nRechnungsnummer  RE-17-0044")), INVOICE)
    assert found(reading)["invoice_number"] == "RE-17-0044"


def test_arithmetic_chooses_between_places() -> None:
    text = """
Net          1,221.00
VAT 20 % on  1,221.00     244.20
Total          500.00
Total due    1,465.20
"""
    reading = extract(document(page(text)), INVOICE)
    assert (found(reading)["net_total"], found(reading)["tax_total"]) == ("1221.00", "244.20")
    assert found(reading)["grand_total"] == "1465.20"
    assert value(reading, "tax_total").confidence > 0.95
    assert "500.00" in [other.value for other in value(reading, "grand_total").readings]


def test_beside_a_name_the_names_next_to_it_in_its_block_are_offered_first() -> None:
    text = PLAIN + "\n\nBill to\nPriya Raman\nBayview Biotech\n600 Terry Wharf"
    buyer = value(extract(document(page(text)), load_type("supplier-invoice")), "buyer_name")
    assert "Bayview Biotech" in (buyer.value, buyer.readings[0].value), "whoever of the two is taken"
    assert {buyer.value, buyer.readings[0].value} == {"Priya Raman", "Bayview Biotech"}


def test_the_second_best_combination_is_kept_with_the_reason_why_it_lost() -> None:
    text = PLAIN.replace("Total EUR  1,465.20", "Total EUR  1,645.20\nTotal due  1,465.20")
    reading = extract(document(page(text)), INVOICE)
    assert found(reading)["grand_total"] == "1465.20"
    assert reading.runner_up
    assert reading.runner_up.instead == {"grand_total": "1645.20"}
    assert reading.runner_up.why == "its amounts add up less well"


def test_a_tax_that_cannot_be_read_is_worked_out_only_where_a_printed_rate_proves_it() -> None:
    stained = PLAIN.replace("VAT 20 %     244.20", "V#~ 20 %     2?,~0")
    tax = value(extract(document(page(stained)), INVOICE), "tax_total")
    assert (tax.value, tax.finder, tax.doubt) == ("244.20", "remainder", "calculated, not read")
    assert tax.confidence < 0.9
    unproven = extract(document(page(stained.replace("20 %", "19 %"))), INVOICE)
    assert found(unproven)["tax_total"] is None


def test_totals_without_readable_labels_are_found_by_what_they_make_of_each_other() -> None:
    unlabelled = PLAIN.replace("Net  ", "N~   ").replace("VAT 20", "~~~ 20").replace("Total EUR", "T~~~ ~~~")
    reading = extract(document(page(unlabelled)), INVOICE)
    amounts = [found(reading)[key] for key in ("net_total", "tax_total", "grand_total")]
    assert amounts == ["1221.00", "244.20", "1465.20"]


def test_a_value_that_only_the_second_reader_can_read_is_looked_for_beside_its_label() -> None:
    stamped = page(PLAIN.replace("BB-20418", "~~ §"))
    asked: list[Box] = []

    def look(_: int, box: Box) -> str | None:
        asked.append(box)
        return "BB-20418" if box.x0 > 200 and 50 < box.cy < 62 else None

    number = value(extract(document(stamped), INVOICE, look), "invoice_number")
    assert number.value == "BB-20418"
    assert number.reason == "right of “Invoice no.”, as only the second reader has it"
    assert number.confidence < 0.9
    assert found(extract(document(stamped), INVOICE, lambda *_: None))["invoice_number"] is None


def test_the_country_of_the_parties_tells_a_shared_sign_and_stands_in_for_none() -> None:
    norwegian = PLAIN.replace("Total EUR  1,465.20", "Total   kr 1,465.20") + "\nIBAN NO93 8601 1117 947"
    assert found(extract(document(page(norwegian)), INVOICE))["currency"] == "NOK"
    silent = PLAIN.replace("Total EUR", "Total    ") + "\nIBAN DK50 0040 0440 1162 43"
    currency = value(extract(document(page(silent)), INVOICE), "currency")
    assert (currency.value, currency.doubt) == ("DKK", "calculated, not read")
    assert currency.confidence < 0.9


def test_a_failed_sum_lowers_confidence_and_an_unread_value_is_missing_not_guessed() -> None:
    wrong = extract(document(page(PLAIN.replace("1,465.20", "1,645.20"), size={0: 16})), INVOICE)
    assert found(wrong)["grand_total"] == "1645.20"
    assert value(wrong, "grand_total").confidence < 0.6
    assert value(wrong, "grand_total").doubt == "a sum fails"
    assert "swapped" in next(v.message for v in wrong.verdicts if not v.passed)
    empty = extract(document(page("Dear Sirs, thank you for your letter.")), INVOICE)
    assert found(empty)["grand_total"] is None
    assert {v.check for v in empty.verdicts if not v.passed} >= {"required:grand_total", "required:invoice_number"}


def test_poor_print_lowers_confidence() -> None:
    clear = extract(document(page(PLAIN, confidence=0.97)), INVOICE)
    poor = extract(document(page(PLAIN, confidence=0.7)), INVOICE)
    assert value(clear, "invoice_number").confidence > 0.9 > value(poor, "invoice_number").confidence
    assert value(poor, "invoice_number").doubt == "the print is unclear"


def test_one_place_serves_one_field() -> None:
    def candidate(score: float) -> Candidate:
        box = Box(0, 0, 10, 10)
        return Candidate(
            value="5", raw="5", page=0, box=box, confidence=1, finder="", parts={"label": score}, reason=""
        )

    picks = choose({"one": [candidate(0.9)], "other": [candidate(0.5)]}, ()).picks
    assert picks["one"]
    assert picks["other"] is None


def test_a_document_type_is_data() -> None:
    assert DocumentType.model_validate_json(INVOICE.model_dump_json()) == INVOICE
    finders = DocumentType.model_json_schema()["$defs"]["FieldRule"]["properties"]["finders"]["items"]
    assert set(finders["discriminator"]["mapping"]) == {
        "beside_label",
        "pattern",
        "section",
        "mark",
        "signature",
        "sum_of_several",
        "days_after",
        "embedded_data",
        "address_block",
        "beside_rate",
        "remainder",
        "country_currency",
        "learned",
        "question",
        "fixed_place",
        "foot_of_column",
        "party",
        "payment_code",
        "regex",
        "return_address",
        "barcode",
        "form_field",
        "from_list",
        "computed",
    }
    assert INVOICE.field("due_date").finders[0].sentence.startswith("Look right of or below “Due date”")


def test_who_is_who_is_told_by_headings() -> None:
    blocks = """
INVOICE no. 5519                        11.02.2026

Customer                                Supplier
Grey Heron Shipping Ltd                 Kestrel Rigging AG
4 Mole Street                           12 Basin Road
9240 Outer Basin                        9241 Lee Quay
VAT no. XQ70890013                      VAT no. XQ27465910

                                        Total EUR  1,465.20
"""
    reading = extract(document(page(blocks)), INVOICE)
    wanted = ("Kestrel Rigging AG", "XQ27465910", "Grey Heron Shipping Ltd")
    assert tuple(found(reading)[key] for key in ("seller_name", "seller_vat_id", "buyer_name")) == wanted


def test_a_name_that_may_be_either_partys_is_doubtful() -> None:
    alone = """
INVOICE no. 5519                        11.02.2026

Kestrel Rigging AG
4 mole street
9240 basin

                                        Total EUR  1,465.20
"""
    seller = value(extract(document(page(alone)), INVOICE), "seller_name")
    assert (seller.value, seller.doubt) == ("Kestrel Rigging AG", "it may belong to another field")
    assert seller.confidence < 0.7


def test_a_window_letter_names_its_sender_in_small_print_over_the_addressee() -> None:
    letter = """
Robin Kestrel · 12 Basin Road · 9241 Lee Quay

Frau
Grey Heron Shipping AG
4 Mole Street
9240 Outer Basin

INVOICE no. 5519                        11.02.2026
                                        Total EUR  1,465.20
Grey Heron Shipping AG: thank you for your order to our yard.
"""
    reading = extract(document(page(letter, size={0: 7})), INVOICE)
    assert found(reading)["seller_name"] == "Robin Kestrel"
    assert found(reading)["buyer_name"] == "Grey Heron Shipping AG", "no heading says so, and it is printed twice"


def test_a_dollar_is_the_money_of_the_suppliers_country() -> None:
    blocks = """
FACTURA nro: 5519                       CUIT: 20-05536168-2

                                        Importe total: $ 1.465,20
"""
    money = value(extract(document(page(blocks)), INVOICE), "currency")
    assert (money.value, money.reason) == ("ARS", "the country of 20-05536168-2")


def test_a_dollar_that_may_be_of_several_countries_is_doubted_and_words_tell_which() -> None:
    told = PLAIN.replace("Total EUR  1,465.20", "Total   $  1,465.20") + "\nABN 51 824 753 556   Tallow Point NSW 2299"
    reading = extract(document(page(told)), INVOICE)
    offered = {c.value for c in value(reading, "currency").candidates} | {value(reading, "currency").value}
    assert {"AUD", "USD"} <= offered
    assert value(reading, "currency").value == "AUD" or value(reading, "currency").confidence < 0.9


def test_a_label_that_goes_on_to_a_colon_has_the_value_behind_it() -> None:
    text = "Den vystavení daňového dokladu: 18. 3. 2026\nSplatnost: 1. 4. 2026\nFaktura č. 77021   Celkem 1 465,20 Kč"
    assert found(extract(document(page(text)), INVOICE))["issue_date"] == "2026-03-18"
