"""Questions, letters and proposals: values by what stands around them, by what that means, and by how people write."""

from __future__ import annotations

from datetime import date
from pathlib import Path

import pytest

from tests.core.paper import document, page
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.extraction.extract import extract
from zestpail.core.finders import Question
from zestpail.core.kinds import AnyKind, Date, OneLine, Quantity, Style, Time
from zestpail.core.learning.asked import kind_of_answer
from zestpail.core.learning.labelled import Label, LabelledDocument
from zestpail.core.learning.sentences import sentences_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.lines import line_of_text
from zestpail.core.reading.opening import open_page
from zestpail.core.reading.read import read_page
from zestpail.core.teaching.apart import for_testing, groups_of, same_document
from zestpail.core.teaching.learn import learn
from zestpail.core.teaching.new_fields import kind_of_all
from zestpail.core.teaching.proposals import propose_all

SLIPS = Path(__file__).parents[2] / "demo" / "files" / "mooring-inspection-slips"
WRITTEN = Style(day=date(2026, 9, 12))
"""On a Saturday."""


@pytest.mark.parametrize(("text", "days", "times"), [
    ("on the 3rd of October, from 7:30 to eleven o'clock", ["2026-10-03"], ["07:30", "11:00"]),
    ("am kommenden Montag von 9 Uhr 30 bis elf Uhr", ["2026-09-14"], ["09:30", "11:00"]),
    ("lundi prochain, de 8 h 30 à onze heures", ["2026-09-14"], ["08:30", "11:00"]),
    ("para o dia 7 de outubro, às nove horas", ["2026-10-07"], ["09:00"]),
    ("le 3 novembre, de 11 h 30 à midi", ["2026-11-03"], ["11:30", "12:00"]),
    ("Old Bess em 5/11, das 14h às 15h15", ["2026-11-05"], ["14:00", "15:15"]),
    ("tomorrow at 3 pm", ["2026-09-13"], ["15:00"]),
    ("on the 3rd of September", ["2027-09-03"], []),
    ("ist Crane 3 am Montag frei", ["2026-09-14"], []),
    ("about 4.5 tonnes, 120.00 a day", [], []),
])  # fmt: skip
def test_days_and_times_as_people_name_them(text: str, days: list[str], times: list[str]) -> None:
    line = line_of_text(text)
    assert [span.value for span in Date().spot(line, WRITTEN)] == days
    assert sorted(span.value for span in Time().spot(line, WRITTEN) if span.shape > 0.9) == times
    assert all(span.value[:4].isdigit() and span.raw.count("20") for span in Date().spot(line, Style())), (
        "no year, no day"
    )


@pytest.mark.parametrize(("question", "kind"), [
    ("Until when may the vessel lie there?", "date"), ("May the berth be sublet?", "yes_no"),
    ("What is the yearly fee?", "amount"), ("Bis wann gilt der Vertrag?", "date"), ("Who is the owner?", "firm"),
    ("What is the contract number?", "code"), ("What colour is the hull?", "line"),
])  # fmt: skip
def test_the_kind_of_an_answer(question: str, kind: str) -> None:
    assert kind_of_answer(question).kind == kind


@pytest.mark.parametrize(("text", "denied"), [
    ("The berth may be sublet with notice.", False), ("The berth may not be sublet.", True),
    ("Subletting of the berth is prohibited.", True), ("Subletting is not prohibited.", False),
    ("Subletting to a boat of no greater length is permitted.", False),
    ("The holder shall not assign this licence nor sublet the berth.", True),
    ("Die Untervermietung ist untersagt.", True), ("O barco não pode ser alugado.", True),
])  # fmt: skip
def test_a_sentence_says_or_denies(text: str, denied: bool) -> None:
    [sentence] = sentences_of(document(page(text)))
    assert sentence.denies == denied


CONTRACT = """
Contract between Quillon Harbour Board and Osprey Charter Ltd

The mooring at berth C7 is let from 4 March 2026. It expires on 3 March 2029.
For this the holder pays a rent of 4,180.00 per annum on receipt of an invoice.
The holder shall not sublet the berth to anybody else.
"""


def asks(**questions: str) -> DocumentType:
    fields = (
        FieldRule(key=key, name=text, kind=kind_of_answer(text), finders=(Question(question=text),))
        for key, text in questions.items()
    )
    return DocumentType(key="contract", name="Contract", fields=tuple(fields))


def test_questions_are_answered_by_meaning_and_unanswered_is_an_answer() -> None:
    doc_type = asks(
        ends="Until when may the vessel lie there?", fee="What is the yearly fee?", sublet="May the berth be sublet?",
        colour="What is the weight of the anchor?",
    )  # fmt: skip
    found = {value.key: value for value in extract(document(page(CONTRACT)), doc_type).values}
    assert found["ends"].value == "2029-03-03"
    assert found["ends"].reason.startswith("by the question, beside")
    assert found["fee"].value == "4180.00"
    assert (found["sublet"].value, found["sublet"].reason) == ("no", "by the question: it is denied there")
    assert found["colour"].value is None


LETTERS = {
    "pt": "Bom dia,\n\nprecisamos de reservar Old Bess para o dia 7 de outubro, das 9h às 14h30,\n"
          "para tirar o motor do Holm Trader, cerca de 15 toneladas.\n\nObrigado",
    "de": "Guten Tag,\n\nwir bräuchten Titan am kommenden Montag von 7 Uhr bis elf Uhr. Gehoben wird\n"
          "der Motor der Anna Wick, ungefähr 4 Tonnen.\n\nGruß",
    "en": "Hello,\n\nthe mast of the Tern has to come off. Is Little Jib free on the 2nd of November? We\n"
          "would need it between 8:30 and twelve o'clock; the lift is 2 t.\n\nRegards",
}  # fmt: skip
ASKED: dict[str, AnyKind] = {"day": Date(), "begin": Time(), "end": Time(), "tonnes": Quantity(), "crane": OneLine()}
KNOWN: dict[str, str | None] = {
    "day": "2026-10-07", "begin": "09:00", "end": "14:30", "tonnes": "15", "crane": "Old Bess",
}  # fmt: skip


def letter(language: str) -> DocumentReading:
    return document(
        page(f"Date: Sat, 12 Sep 2026 13:00:00 +0000\nSubject: Crane\n\n{LETTERS[language]}", confidence=1.0)
    )


def test_one_letter_teaches_others_in_other_languages() -> None:
    fields = tuple(FieldRule(key=key, name=key.title(), kind=kind, finders=()) for key, kind in ASKED.items())
    doc_type = DocumentType(key="booking", name="Booking", fields=fields)
    sample = LabelledDocument("one.eml", letter("pt"), {key: Label(value) for key, value in KNOWN.items()})
    lesson = learn(doc_type, [sample])
    assert lesson.faults == ()

    def read(language: str) -> dict[str, str | None]:
        return {value.key: value.value for value in extract(letter(language), lesson.doc_type).values}

    assert read("pt") == KNOWN
    german, english = read("de"), read("en")
    assert [german[key] for key in ("day", "begin", "end", "tonnes")] == ["2026-09-14", "07:00", "11:00", "4"]
    assert [english[key] for key in ("day", "begin", "end", "tonnes")] == ["2026-11-02", "08:30", "12:00", "2"]


FORM = """
Survey of a boat

Survey no  S-4471                 Surveyed on: 04.03.2026
Owner:                            Marchand & Fille SARL
Zahlungsziel: 30.03.2026

Part           State       Pieces
Chain          worn        4
Shackle        sound       12

This survey was made afloat and says nothing of what lies under water.
"""


def test_pairs_and_tables_are_proposed_and_prose_is_not() -> None:
    fields, tables = propose_all(document(page(FORM)))
    found = {one.rule.name: (one.rule.kind.kind, one.value) for one in fields}
    assert found["Survey no"] == ("code", "S-4471")
    assert found["Surveyed on"] == ("date", "2026-03-04")
    assert found["Owner"] == ("firm", "Marchand & Fille SARL")
    assert found["Due date"] == ("date", "2026-03-30"), "a label of another language has the name of what it means"
    assert not any("afloat" in value for _, value in found.values())
    assert [[column.name for column in one.table.columns] for one in tables] == [["Part", "State", "Pieces"]]
    assert [one.score for one in fields] == sorted((one.score for one in fields), reverse=True)


def test_characters_in_boxes_are_read_without_the_boxes() -> None:
    """Born-digital, scanned, and scanned askew in black and white; a fax of it is not guessed."""
    for name, words in (
        ("inspection-slip-01.pdf", ["BRINE", "PETREL"]), ("inspection-slip-02.tif", ["SALTMARSH", "3"]),
        ("inspection-slip-04.tif", ["HOLM", "TRADER"]),
    ):  # fmt: skip
        reading = read_page(open_page((SLIPS / name).read_bytes(), 0)).reading
        assert [word.text for word in reading.words if 108 < word.box.cy < 136 and word.box.x0 > 84] == words
        assert len(reading.marks) <= 3, "the boxes of a row are no boxes to be ticked"
    fax = read_page(open_page((SLIPS / "inspection-slip-08.tif").read_bytes(), 0)).reading
    assert all(word.confidence < 0.6 for word in fax.words if 108 < word.box.cy < 136 and word.box.x0 > 84)


def test_samples_are_kept_apart_by_layout() -> None:
    def sample(name: str, text: str, total: str) -> LabelledDocument:
        labels = {key: Label(f"{key}{total}") for key in "abcd"}
        return LabelledDocument(name, document(page(text)), labels)

    contract, form = CONTRACT, FORM
    samples = [
        sample("a", contract, "1"),
        sample("b", contract.replace("4,180.00", "99.00"), "2"),
        sample("c", form, "3"),
    ]
    assert groups_of(samples) == [[0, 1], [2]]
    assert for_testing(samples) == {1}
    assert not same_document(samples[0], samples[1])
    assert same_document(samples[0], sample("a again", form, "1")), "all values are the same"


@pytest.mark.parametrize(("values", "kind"), [
    (["2026-03-04", "2026-05-01"], "date"), (["12.50", "8.00"], "amount"), (["yes", "no"], "yes_no"),
    (["one\ntwo"], "lines"), (["Brine Petrel", "4"], "line"), ([], "line"),
])  # fmt: skip
def test_the_kind_of_values_that_a_type_has_no_field_for(values: list[str], kind: str) -> None:
    assert kind_of_all(values).kind == kind
