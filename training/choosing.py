"""Teaches what each fact counts when samples say what a value is: ``python -m training.choosing [SEED]``.

Agreements, invoices and e-mails of many authors are composed. Of each paper every field is looked for by what some
papers of other authors teach of it, as a type does that has learned from samples; the weights are those under which the
right pieces are likeliest (:mod:`zestpail.core.learning.choice`). Of authors set aside it is printed how often the
likeliest value is right. The same seed makes the same weights.
"""

from __future__ import annotations

import json
import random
import sys
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from training.compose.agreement import agreement, author
from training.compose.bill import drawn
from training.compose.layout import composed
from training.compose.letter import letter
from training.compose.printing import printed, printer
from zestpail.core.document_type import DocumentType, FieldRule, load_type
from zestpail.core.document_type.learned import TaughtField
from zestpail.core.finders import SearchContext
from zestpail.core.kinds import Amount, AnyKind, Code, Date, Firm, OneLine, Quantity, Time
from zestpail.core.learning.choice import Choice, Floats, fitted, shares
from zestpail.core.learning.evidence import evidence_of
from zestpail.core.learning.general import manner_of
from zestpail.core.learning.labelled import Label, LabelledDocument
from zestpail.core.learning.memory import sought_by
from zestpail.core.learning.offers import offers_of
from zestpail.core.learning.truth import as_kept
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.opening import count_pages, open_page
from zestpail.core.reading.read import read_page
from zestpail.core.teaching.locate import located
from zestpail.core.teaching.surroundings import taught_by, together
from zestpail.core.teaching.tuning import Told, choice_of
from zestpail.core.writing.mail_pages import readable

TARGET = Path(__file__).parents[1] / "src/zestpail/core/learning/choice.json"
AUTHORS, EACH, BILLS, HOUSES, LETTERS = 200, 2, 240, 16, 16
SAMPLES = (1, 2, 3, 5, 8)
"""From so many samples of others a paper is looked at."""
TWICE = 2
"""Each paper is looked at by so many choices of samples."""
ASIDE = 5
"""Of so many authors one is set aside."""
HELD, HELD_TO_ALL = 1.0, 3.0
"""How much weights are held to nothing, and those of one manner to those of all."""
AGREED: dict[str, AnyKind] = {
    "number": Code(), "first": Firm(), "second": Firm(), "thing": OneLine(), "place": Code(), "begins": Date(),
    "ends": Date(), "fee": Amount(),
}  # fmt: skip
WRITTEN: dict[str, AnyKind] = {
    "thing": OneLine(), "who": OneLine(), "day": Date(), "begin": Time(), "end": Time(), "count": Quantity(),
}  # fmt: skip
QUESTIONS = {
    "number": ("What is the number of the agreement?", "Reference number", "Contract number?"),
    "first": ("Who is the {}?",), "second": ("Who is the {}?",), "thing": ("What is the {}?", "Which {} is it?"),
    "place": ("Which {} is it?", "What is the {}?"),
    "begins": ("From when does it run?", "When does it begin?", "What is the first day?", "Start date"),
    "ends": ("Until when does it run?", "When does it end?", "What is the last day?", "When does it expire?"),
    "fee": ("What is the {}?", "How much is the {}?", "What is to be paid?"),
}  # fmt: skip
UNANSWERED: tuple[tuple[str, AnyKind], ...] = (
    ("What is the weight of the load?", Quantity()), ("What colour is it?", OneLine()), ("Who is the insurer?", Firm()),
    ("When was it last inspected?", Date()), ("What is the fine for late return?", Amount()),
    ("What is the telephone number?", Code()), ("How many people may use it?", Quantity()),
    ("Who is the witness?", Firm()), ("What is the customs number?", Code()), ("When was it built?", Date()),
    ("What is the price of electricity?", Amount()), ("Which broker is named?", OneLine()),
)  # fmt: skip
"""Questions that none of the agreements answers."""

PAPER = ("name", "text", "code", "figure")
"""Manners of papers that are no letters."""


@dataclass(frozen=True)
class Example:
    """A field of a paper as it is to be chosen."""

    author: str
    manner: str
    field: str
    choice: Choice


@dataclass(frozen=True)
class Paper:
    """A composed paper with what it teaches, and whose it is."""

    author: str
    like: str
    """Papers that are alike in this are of one type."""
    english: bool
    fields: tuple[FieldRule, ...]
    told: Told


Composed = tuple[bytes, dict[str, str | None], str, str, bool, tuple[FieldRule, ...]]
"""A file, its truth, its author, its type, whether it is English, and the type's fields."""


def _fields(kinds: dict[str, AnyKind], names: dict[str, str]) -> tuple[FieldRule, ...]:
    return tuple(
        FieldRule(key=key, name=names.get(key, key.title()), kind=kind, finders=()) for key, kind in kinds.items()
    )


def agreements(seed: int, part: int, parts: int) -> list[Composed]:
    """Every ``parts``-th author's agreements."""
    made: list[Composed] = []
    with printer() as browser:
        for at in range(part, AUTHORS, parts):
            for number in range(EACH):
                by = author(random.Random(f"{seed}/{at}"))
                markup, truth = agreement(by, random.Random(f"{seed}/{at}/{number}"))
                names = {key: by.topic[key][0] for key in ("first", "second", "thing", "place", "fee")}
                like = f"{by.tongue.code} {by.topic['title'][0]}"
                fields = _fields(AGREED, names)
                made.append((printed(browser, markup), truth, f"a{at}", like, by.tongue.code == "en", fields))
    return made


def bills(seed: int, part: int, parts: int) -> list[Composed]:
    """Every ``parts``-th invoice, each of another seller."""
    invoice = load_type("supplier-invoice")
    fields = tuple(
        field.model_copy(update={"finders": (), "judged": False})
        for field in invoice.fields
        if field.kind.kind != "currency"
    )
    made: list[Composed] = []
    with printer() as browser:
        for at in range(part, BILLS, parts):
            lot = random.Random(f"{seed}/{at}")
            paper = composed(lot, drawn(lot))
            truth = {field.key: as_kept(field.kind, paper.fields.get(field.key)) for field in fields}
            made.append((printed(browser, paper.markup), truth, f"b{at}", "bill", False, fields))
    return made


def letters(seed: int, part: int, parts: int) -> list[Composed]:
    """Every ``parts``-th house's letters."""
    fields = _fields(WRITTEN, {"thing": "Room", "who": "For", "count": "People"})
    made: list[Composed] = []
    for at in range(part, HOUSES, parts):
        for number in range(LETTERS):
            data, truth = letter(f"{seed}/{at}", random.Random(f"{seed}/{at}/{number}"))
            made.append((readable("letter.eml", data), truth, f"l{at}/{number}", f"house {at}", False, fields))
    return made


def papers(compose: Callable[[int, int, int], list[Composed]], seed: int, part: int, parts: int) -> list[Paper]:
    """What composed papers teach, each read and its values located."""
    return [_paper(*one) for one in compose(seed, part, parts)]


def _paper(
    data: bytes, truth: dict[str, str | None], by: str, like: str, english: bool, fields: tuple[FieldRule, ...]
) -> Paper:
    pages = tuple(read_page(open_page(data, at), second=False).reading for at in range(count_pages(data)))
    document = DocumentReading(pages)
    labels = {key: Label(value) for key, value in truth.items()}
    plain = DocumentType(key="composed", name="Composed", fields=fields)
    context = SearchContext(document, ())
    placed = located(context, plain, LabelledDocument(by, document, labels))
    taught = {field.key: known for field in fields if (known := taught_by(field, context, placed))}
    return Paper(by, like, english, fields, Told(context, placed, taught))


def examples(several: Sequence[Paper], lot: random.Random, names: Sequence[str]) -> Iterator[Example]:
    """Each field of each paper as it is to be chosen by what papers of others teach, and by questions alone."""
    for paper in several:
        others = [one for one in several if one.like == paper.like and one.author != paper.author]
        for field in paper.fields:
            for _ in range(TWICE):
                samples = lot.sample(others, min(lot.choice(SAMPLES), len(others)))
                known = together([one.told.fields[field.key] for one in samples if field.key in one.told.fields])
                if known and known.spots:
                    yield from _example(paper, field, known, known.name, names)
                if paper.english:
                    question = lot.choice(QUESTIONS[field.key]).format(field.name.lower())
                    yield from _example(paper, field, TaughtField(key=field.key), question, names)
        for question, kind in lot.sample(UNANSWERED, k=3) if paper.english else ():
            field = FieldRule(key="unanswered", name=question, kind=kind, finders=())
            told = replace(paper.told, labels={"unanswered": Label(None)})
            asked = replace(paper, told=told)
            yield from _example(asked, field, TaughtField(key="unanswered"), question, names)


def _example(paper: Paper, field: FieldRule, known: TaughtField, name: str, names: Sequence[str]) -> Iterator[Example]:
    letter = paper.told.context.style.day is not None
    choice = choice_of(field, paper.told, sought_by(known, name), known, names)
    if choice:
        yield Example(paper.author, manner_of(field.kind, letter=letter, taught=bool(known.spots)), field.key, choice)


def names_of(several: Sequence[Paper]) -> list[str]:
    """The names of all facts."""
    found: set[str] = set()
    for paper in several:
        for field in paper.fields:
            known = paper.told.fields.get(field.key)
            if known and known.spots:
                evidence = evidence_of(offers_of(paper.told.context), field.kind, sought_by(known, ""), known)
                found.update(name for facts in (*evidence.facts, evidence.none) for name in facts)
    return sorted(found)


def taught(found: Sequence[Example], names: Sequence[str]) -> dict[str, Floats]:
    """By manner the weights, those of each held to those of all that are like it."""
    weights: dict[str, Floats] = {}
    held, held_to_all = np.full(len(names), HELD), np.full(len(names), HELD_TO_ALL)
    on_paper = [one for one in found if one.manner in PAPER]
    general = fitted([one.choice for one in on_paper], np.zeros(len(names)), held)
    in_letters = fitted([one.choice for one in found if one.manner.startswith("letter")], general, held)
    for manner in sorted({one.manner for one in found}):
        mine = [one.choice for one in found if one.manner == manner]
        start = in_letters if manner.startswith("letter") else general
        weights[manner] = fitted(mine, start, held_to_all if manner in PAPER else held)
    return weights


def compared(found: Sequence[Example], weights: dict[str, Floats]) -> Iterator[str]:
    """By manner and field how often the likeliest piece is right, of those that are there."""
    there = [one for one in found if not one.choice.right[-1]]
    for manner, field in sorted({(one.manner, one.field) for one in there}):
        mine = [one.choice for one in there if (one.manner, one.field) == (manner, field)]
        right = sum(bool(one.right[np.argmax(shares(one.table, weights[manner])[:-1])]) for one in mine)
        yield f"{manner:14} {field:16} likeliest piece right {right} of {len(mine)}"


def main() -> None:
    """Compose, teach, write the weights, measure."""
    seed, workers = int(sys.argv[1]) if len(sys.argv) > 1 else 21, 2
    made = [compose for compose in (agreements, bills, letters) for _ in range(workers)]
    with ProcessPoolExecutor(workers) as pool:
        parts = pool.map(
            papers, made, [seed] * len(made), [at % workers for at in range(len(made))], [workers] * len(made)
        )
        several = [paper for part in parts for paper in part]
    aside = {paper.author for paper in several if random.Random(paper.author.split("/")[0]).random() < 1 / ASIDE}
    names = names_of(several)
    lot = random.Random(seed)
    found = list(examples([paper for paper in several if paper.author not in aside], lot, names))
    weights = taught(found, names)
    body = {
        manner: {name: round(float(weight), 3) for name, weight in zip(names, of_manner, strict=True)}
        for manner, of_manner in weights.items()
    }
    TARGET.write_text(json.dumps(body, indent=1, sort_keys=True) + "\n", "utf-8")
    print(f"{len(found)} choices of {len(several)} papers: {TARGET}")
    for line in compared(list(examples([paper for paper in several if paper.author in aside], lot, names)), weights):
        print(line)


if __name__ == "__main__":
    main()
