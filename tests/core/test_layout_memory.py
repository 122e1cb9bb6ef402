"""One labelled document, and others of its layout: shifted, scaled, turned, with lines and pages more or less."""

from __future__ import annotations

import math

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.paper import document, page
from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.extraction.extract import Extraction, extract
from zestpail.core.finders import BesideLabel
from zestpail.core.kinds import Amount, AnyKind, Code, Date, Firm, OneLine, SeveralLines
from zestpail.core.learning.labelled import Label, LabelledDocument
from zestpail.core.learning.memory import memory_of
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box
from zestpail.core.reading.page import PageReading
from zestpail.core.teaching.learn import Lesson, learn

HEAD = """
Tolva Marine Works Ltd                     Slipway Lane 4, Estrel
Tug and barge repair                       Telephone Estrel 4471

Invoice no        {number}                 Vessel   {vessel}
Dated             {day}                    Your reference  {order}

Description                 Hours      Rate      Amount
"""
ROW = "Welding of the bulwark      3          41.00     123.00"
FOOT = """
Sum of the work                                  {net}
Harbour levy                                     {levy}
Payable to Tolva Marine Works                    {total}

Kindly pay within a fortnight, naming the number above.
"""
FIRST = {
    "number": "TM-1041", "vessel": "Marigold", "day": "04.03.2026", "order": "QB-77", "net": "120.00", "levy": "6.00",
    "total": "126.00",
}  # fmt: skip
LATER = {
    "number": "TM-2260", "vessel": "Brave Lapwing", "day": "29.11.2026", "order": "QB-1402", "net": "2,480.50",
    "levy": "124.03", "total": "2,604.53",
}  # fmt: skip
KINDS: dict[str, AnyKind] = {
    "number": Code(), "vessel": OneLine(), "day": Date(), "order": Code(), "net": Amount(), "levy": Amount(),
    "total": Amount(),
}  # fmt: skip
KEPT = {"day": ("2026-03-04", "2026-11-29"), "net": ("120.00", "2480.50"), "total": ("126.00", "2604.53")}


def paper(values: dict[str, str], rows: int = 1, extra: str = "") -> PageReading:
    return page(HEAD.format(**values).strip("\n") + extra + "\n" + "\n".join([ROW] * rows) + FOOT.format(**values))


def bare(kinds: dict[str, AnyKind]) -> DocumentType:
    """A type without any rule."""
    return DocumentType(
        key="repair",
        name="Repair",
        fields=tuple(FieldRule(key=k, name=k.title(), kind=v, finders=()) for k, v in kinds.items()),
    )


Known = tuple[str, DocumentReading, dict[str, str | None]]


def taught(*samples: Known, kinds: dict[str, AnyKind] = KINDS) -> Lesson:
    return learn(bare(kinds), [labelled(*sample) for sample in samples])


def labelled(name: str, read: DocumentReading, truth: dict[str, str | None]) -> LabelledDocument:
    return LabelledDocument(name, read, {key: Label(value) for key, value in truth.items()})


def truth_of(values: dict[str, str], at: int) -> dict[str, str | None]:
    return {key: KEPT[key][at] if key in KEPT else value for key, value in values.items()}


def found_in(extraction: Extraction) -> dict[str, str | None]:
    return {value.key: value.value for value in extraction.values}


def moved(read: PageReading, scale: float, degrees: float, right: float, down: float) -> PageReading:
    """The page as another scanner might have it."""
    turn = math.radians(degrees)

    def at(box: Box) -> Box:
        x = scale * (box.x0 * math.cos(turn) - box.cy * math.sin(turn)) + right
        y = scale * (box.x0 * math.sin(turn) + box.cy * math.cos(turn)) + down
        return Box(x, y - scale * box.height / 2, x + scale * box.width, y + scale * box.height / 2)

    words = tuple(
        word.model_copy(update={
            "box": at(word.box), "symbols": tuple(s.model_copy(update={"box": at(s.box)}) for s in word.symbols)
        })
        for word in read.words
    )  # fmt: skip
    return read.model_copy(update={"words": words})


ONE = taught(("tolva-01.pdf", document(paper(FIRST)), truth_of(FIRST, 0)))


@given(
    rows=st.integers(1, 14), scale=st.floats(0.8, 1.25), degrees=st.floats(-0.8, 0.8), right=st.floats(-25, 60),
    down=st.floats(-20, 60),
)  # fmt: skip
@settings(max_examples=25, deadline=None)
def test_another_of_the_layout_is_read_wherever_it_lies(
    rows: int, scale: float, degrees: float, right: float, down: float
) -> None:
    other = document(moved(paper(LATER, rows), scale, degrees, right, down))
    assert found_in(extract(other, ONE.doc_type)) == truth_of(LATER, 1)


def test_it_says_by_what_it_knows() -> None:
    read = document(paper(LATER, 4))
    [value] = [v for v in extract(read, ONE.doc_type).values if v.key == "total"]
    assert (value.finder, value.reason) == ("learned", "as on tolva-01.pdf, right of “Payable to Tolva Marine Works”")
    assert value.confidence > 0.9
    learned = ONE.doc_type.learned
    assert learned
    sample, alike = memory_of(learned).layouts.layouts.nearest(read) or ("", 0.0)
    assert sample == "tolva-01.pdf"
    assert alike > 0.6


def test_a_foot_on_the_next_page_is_found_there() -> None:
    whole = HEAD.format(**LATER).strip("\n") + "\n" + "\n".join([ROW] * 40)
    two = document(page(whole), page(FOOT.format(**LATER)))
    found = extract(two, ONE.doc_type)
    assert found_in(found) == truth_of(LATER, 1)
    assert {value.key: value.page for value in found.values}["total"] == 1


OTHER = """
Casvel Dredging                                   Statement of hours

Vessel: Brave Lapwing                             Dated 3 May 2026
Invoice no: 5510-C

Total for the week   88.00
"""


def test_a_layout_that_nobody_taught_is_none() -> None:
    """What stands beside the same words is found there all the same, less surely and with that reason."""
    read = document(page(OTHER))
    found = {value.key: value for value in extract(read, ONE.doc_type).values}
    assert ONE.doc_type.learned
    assert memory_of(ONE.doc_type.learned).layouts.recognised(read) == []
    assert (found["number"].value, found["vessel"].value) == ("5510-C", "Brave Lapwing")
    assert found["number"].reason == "as on other samples, beside “Invoice no”"
    assert (found["levy"].value, found["order"].value) == (None, None)


def test_each_of_several_layouts_is_known_by_itself() -> None:
    other = {"vessel": "Brave Lapwing", "day": "2026-05-03", "number": "5510-C", "total": "88.00"}
    both = taught(
        ("tolva-01.pdf", document(paper(FIRST)), truth_of(FIRST, 0)), ("casvel-01.pdf", document(page(OTHER)), other)
    ).doc_type  # fmt: skip
    later = OTHER.replace("88.00", "1,204.10").replace("Brave Lapwing", "Oyster").replace("3 May", "17 June")
    found = found_in(extract(document(page(later)), both))
    assert (found["vessel"], found["day"], found["total"]) == ("Oyster", "2026-06-17", "1204.10")
    assert found_in(extract(document(paper(LATER, 3)), both)) == truth_of(LATER, 1)


def test_a_rule_and_the_memory_compete() -> None:
    """The rule takes another amount by its label; where the layout is known, it is overruled, elsewhere it holds."""
    labels = BesideLabel(labels=("Total for the week", "Sum of the work"))
    doc_type = bare({"total": Amount()})
    doc_type = doc_type.model_copy(
        update={"fields": (doc_type.fields[0].model_copy(update={"finders": (labels,)}),)}
    )  # fmt: skip
    with_it = learn(doc_type, [labelled("tolva-01.pdf", document(paper(FIRST)), {"total": "126.00"})]).doc_type
    assert found_in(extract(document(paper(LATER, 2)), doc_type)) == {"total": "2480.50"}
    assert found_in(extract(document(paper(LATER, 2)), with_it)) == {"total": "2604.53"}
    assert found_in(extract(document(page(OTHER)), with_it)) == {"total": "88.00"}


ADDRESSED = """
Quenby Pumps Ltd

Deliver to
Shed 4, North Quay
Quillon Harbour Board
Quillon QX1 4HB

Goods      Pieces
Bilge pump 2
"""


def test_names_and_several_lines() -> None:
    kinds: dict[str, AnyKind] = {"seller": Firm(), "place": SeveralLines()}
    place = "Shed 4, North Quay\nQuillon Harbour Board\nQuillon QX1 4HB"
    truth: dict[str, str | None] = {"seller": "Quenby Pumps Ltd", "place": place}
    lesson = taught(("quenby.pdf", document(page(ADDRESSED)), truth), kinds=kinds)
    assert lesson.faults == ()
    later = ADDRESSED.replace("Quenby Pumps", "Quenbv Purnps").replace("Shed 4, North Quay\n", "Boathouse\n")
    found = found_in(extract(document(page(later)), lesson.doc_type))
    assert found == {"seller": "Quenby Pumps Ltd", "place": "Boathouse\nQuillon Harbour Board\nQuillon QX1 4HB"}


def test_the_same_samples_teach_the_same_and_travel_with_the_type() -> None:
    again = taught(("tolva-01.pdf", document(paper(FIRST)), truth_of(FIRST, 0)))
    assert again.doc_type.learned == ONE.doc_type.learned
    assert ONE.doc_type.learned
    copy = DocumentType.model_validate_json(ONE.doc_type.model_dump_json())
    assert copy.learned
    assert copy.learned.digest == ONE.doc_type.learned.digest
    assert found_in(extract(document(paper(LATER, 2)), copy)) == truth_of(LATER, 1)


def test_what_contradicts_itself_or_cannot_be_used_is_told() -> None:
    one, other = document(paper(FIRST)), document(paper(LATER, 2))
    wrong = truth_of(LATER, 1) | {"total": "2480.50", "number": "ZZ-9"}
    lesson = taught(("tolva-01.pdf", one, truth_of(FIRST, 0)), ("tolva-02.pdf", other, wrong))
    assert lesson.faults == (
        "tolva-02.pdf: “ZZ-9” (Number) is not found on the paper, so no place is learned.",
        "tolva-02.pdf: Total stands elsewhere than on tolva-01.pdf, which looks the same; where it stood there, here "
        "is “2604.53”.",
    )
    twice = [
        LabelledDocument(name, one, {"total": Label(value)}, "the same")
        for name, value in (("a.pdf", "126.00"), ("b.pdf", "120.00"))
    ]
    assert learn(bare(KINDS), twice).faults[0] == (
        "a.pdf and b.pdf are the same file, but Total is “126.00” on the one and “120.00” on the other."
    )
    assert taught(("blank", document(page("")), {})).faults == ()
