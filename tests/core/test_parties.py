"""Address blocks as units, and who of those who stand on a paper sells and who buys."""

from __future__ import annotations

import pytest

from tests.core.paper import document, page
from zestpail.core.document_type import load_type
from zestpail.core.extraction.extract import extract
from zestpail.core.finders import Candidate, FootOfColumn, Party, SearchContext
from zestpail.core.finders.context import FieldTarget
from zestpail.core.finders.parties.addresses import part_of
from zestpail.core.finders.parties.blocks import blocks_in
from zestpail.core.kinds import Amount, Firm
from zestpail.core.landmarks.labels import Label, match_labels
from zestpail.core.landmarks.wordings import MEANINGS, usual_labels, words_for

INVOICE = load_type("supplier-invoice")

TWO_COLUMNS = """
Seller                         Buyer
Lodni servis Vltavan s.r.o.    Mrs Orla Pengelly
Nabrezni 118/4                 Fenwick Rowing Club
150 00 Praha 5                 4 Slip Road
VAT: CZ27604977                Ambleford AF3 9QT

Invoice no. 77021              Date 03.09.2026
"""


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("Fenwick Rowing Club", "name"),
        ("4 Slip Road", "street"),
        ("Nábřežní 118/4", "street"),
        ("P.O. Box 12", "street"),
        ("150 00 Praha 5", "place"),
        ("D-24103 Kiel", "place"),
        ("Ambleford AF3 9QT", "place"),
        ("Portland, ME 04101", "place"),
        ("1012 AB Amsterdam", "place"),
        ("4450-123 Matosinhos", "place"),
        ("Deutschland", "country"),
        ("orders@chandlery.example", "contact"),
        ("+44 1632 960411", "contact"),
        ("IČ: 27604977", "number"),
        ("z. Hd. Frau Brandt", "person_to_ask"),
        ("Zone du Vieux Môle", "street"),
        ("Ferry Wharf Trading Estate", "street"),
        ("Total 1,465.20", "number"),
        ("May 2026", "number"),
    ],
)
def test_the_parts_of_an_address(text: str, part: str) -> None:
    assert part_of(text) == part


def test_an_address_is_one_block_in_its_column_and_on_one_line() -> None:
    blocks = blocks_in(document(page(TWO_COLUMNS)).lines)
    assert [[piece.text for piece in block.pieces][:3] for block in blocks] == [
        ["Seller", "Lodni servis Vltavan s.r.o.", "Nabrezni 118/4"],
        ["Buyer", "Mrs Orla Pengelly", "Fenwick Rowing Club"],
    ]
    line = document(page("Wellenbau KG · Speicherstr. 41 · 24103 Kiel")).lines
    small = next(block for block in blocks_in(line) if block.one_line)
    assert [piece.part for piece in small.pieces] == ["name", "street", "place"]


def parties(text: str, role: str, size: int = 9) -> dict[str, Candidate]:
    """What the finder of a party proposes, by name; lines are 14 points apart."""
    context = SearchContext(document(page(text, size=dict.fromkeys(range(40), size))), INVOICE.labels)
    keys = {"seller": "seller_name", "buyer": "buyer_name"}
    finder = Party(role=role, other=keys["buyer" if role == "seller" else "seller"])  # type: ignore[arg-type]
    return {c.value: c for c in finder.candidates(context, FieldTarget(keys[role], Firm()))}


def test_headings_say_who_is_who_and_a_person_stands_back_behind_a_firm() -> None:
    sells, buys = parties(TWO_COLUMNS, "seller"), parties(TWO_COLUMNS, "buyer")
    assert set(sells) == {"Lodni servis Vltavan s.r.o.", "Mrs Orla Pengelly", "Fenwick Rowing Club"}
    assert max(sells.values(), key=lambda c: c.score).value == "Lodni servis Vltavan s.r.o."
    lady, club = buys["Mrs Orla Pengelly"], buys["Fenwick Rowing Club"]
    assert (lady.facts["titled"], lady.facts["more_names"], club.facts["second_line"]) == (1.0, 1.0, 1.0)
    assert lady.facts["headed"] == club.facts["headed"] == 1.0
    assert buys["Lodni servis Vltavan s.r.o."].facts["others_heading"] == 1.0
    assert buys["Lodni servis Vltavan s.r.o."].score < 0.1


def test_the_seller_and_the_buyer_of_a_whole_paper() -> None:
    found = {value.key: value for value in extract(document(page(TWO_COLUMNS)), INVOICE).values}
    assert found["seller_name"].value == "Lodni servis Vltavan s.r.o."
    assert found["seller_vat_id"].value == "CZ27604977"
    assert found["buyer_name"].value in ("Fenwick Rowing Club", "Mrs Orla Pengelly")


def test_a_name_with_small_words_in_it_is_whole() -> None:
    (name, *_) = Firm().spot(document(page("Plavební společnost Orlík s.r.o.")).lines[0], INVOICE_STYLE)
    assert name.value == "Plavební společnost Orlík s.r.o."
    sentence = document(page("Goods are those of the Bight & Bollard Ltd until paid")).lines[0]
    assert [span.value for span in Firm().spot(sentence, INVOICE_STYLE) if span.shape == 1.0] == ["Bight & Bollard Ltd"]


INVOICE_STYLE = SearchContext(document(page("1,00")), ()).style


def test_words_of_languages_that_a_paper_does_not_speak_are_not_its_labels() -> None:
    labels = (*usual_labels(("due_date",), "due"), *usual_labels(("grand_total",), "total"), Label("Sum", "own"))
    polish = document(page("Termin zapadalności: 3.9.2026\nRazem 12,00\nSum 3,00")).lines
    assert {m.label.owner for m in match_labels(polish, labels)} == {"due", "total", "own"}
    english = document(page("Invoice total 12.00\nDue date 3.9.2026\nRazem")).lines
    assert "Razem" not in {m.label.text for m in match_labels(english, labels)}


def test_every_meaning_is_worded_in_many_languages() -> None:
    for meaning in MEANINGS:
        languages = set().union(*words_for(meaning).values())
        assert len(languages) >= 15, meaning
    assert words_for("no such meaning") == {}


def test_sums_at_the_foot_of_a_table_stand_under_its_headers() -> None:
    table = """
    Nazwa          Wartosc netto      Wartosc brutto
    Olej                  100,00              123,00
    Razem                 100,00              123,00
    """
    labels = (Label("Wartosc brutto", "grand_total"), Label("Wartosc netto", "net_total"))
    context = SearchContext(document(page(table)), labels)
    found = list(FootOfColumn().candidates(context, FieldTarget("grand_total", Amount())))
    assert [(c.value, c.reason) for c in found] == [("123.00", "at the foot of “Wartosc brutto”")]


def test_names_are_set_off_polite_smudged_and_joined_to_an_address_for_mail() -> None:
    text = """
Tidewrack Services                  M/s. Langstone Marina Ltd

7 Hard Lane                         1 Fort Road
Emsworth PO9 5BH                    Hayling Island PO11 0RB

Phone 01632 960411

    Rowing Club Itaipu <club@itaipu.example>
    4 Slip Road
    Ambleford AF3 9QT
"""
    names = parties(text, "seller", size=13)
    assert names["Tidewrack Services"].facts["contact"] == 1.0, "ways to reach somebody may be set off too"
    assert {"Langstone Marina Ltd", "Rowing Club Itaipu"} <= set(names)
    smudged = page("E Ostersiel Elektro AG\nSchleusenweg 3\n24103 Ostersiel")
    speck = smudged.words[0].model_copy(update={"confidence": 0.4, "symbols": ()})
    reading = document(smudged.model_copy(update={"words": (speck, *smudged.words[1:])}))
    finder = Party(role="seller", other="buyer_name")
    found = finder.candidates(SearchContext(reading, INVOICE.labels), FieldTarget("seller_name", Firm()))
    assert "Ostersiel Elektro AG" in {c.value for c in found}


def test_a_short_name_knows_that_a_longer_one_is_printed() -> None:
    text = """
Blue Gum Slipway
88 Careening Drive
24103 Tallow

Pay to Blue Gum Slipway Pty Ltd, account 4411
"""
    assert parties(text, "seller")["Blue Gum Slipway"].facts["longer"] == 1.0


def test_a_form_is_headed_over_all_of_its_row() -> None:
    text = """
Razon Social: CALOR HOGAR S.A.        Fecha: 16/05/2026
CUIT: 30-70765432-1

DATOS DEL RECEPTOR
CUIT: 20-11111111-2                   Razon Social: Marina Paz
"""
    assert parties(text, "buyer")["Marina Paz"].facts["headed"] == 1.0


def test_a_letterhead_may_stand_well_over_its_address() -> None:
    text = """
Tidewrack Services               INVOICE


7 Hard Lane
24103 Emsworth
VAT: CZ27604977
"""
    reading = document(page(text, size={0: 13}))
    finder = Party(role="seller", other="buyer_name")
    found = finder.candidates(SearchContext(reading, INVOICE.labels), FieldTarget("seller_name", Firm()))
    assert "Tidewrack Services" in {c.value for c in found}
