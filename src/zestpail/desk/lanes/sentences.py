"""The sentences of a lane's letter, and what a person should know of each."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from zestpail.core.reading.preparation.cleaning import Cleaning
from zestpail.core.separation import AnyRule, AtBarcode, AtBlankPage, AtPrintedSheet, Separation
from zestpail.desk.documents.lane_settings import Letter


@dataclass(frozen=True)
class Line:
    """A sentence: pieces of plain words and of settings, in turn; and what a person should know of it."""

    part: str
    pieces: list[str]
    warnings: list[str]


def letter_lines(letter: Letter, names: dict[str, str], lanes: dict[str, str]) -> Iterator[Line]:
    """The sentences in their order; ``names`` are those of types and ``lanes`` those of other lanes, by key."""
    rules = letter.separation
    cut = [rules.bundles.sentence("a bundle")] if rules.bundles else []
    yield Line(
        "separation",
        ["When files are dropped on this lane, scanned, laid into its folder, or sent by e-mail or a program, ",
         "; ".join([*cut, rules.documents.sentence("a document")]),
         ". Blank pages are ", rules.blank_pages, ", sheets ", rules.sheets, "; documents go on ", rules.goes_on, "."],
        list(_warnings(rules)),
    )  # fmt: skip
    own = names.get(letter.type, letter.type)
    others = ", ".join(names.get(used.key, used.key) for used in letter.other_types) or "no other"
    unnamed = [] if letter.other_types or not _names_types(rules) else ["A sheet that names a type is not followed."]
    yield Line("types", ["A document is of the type ", own, "; sheets may name ", others, "."], unnamed)
    clean = letter.cleaning
    yield Line(
        "reading",
        ["Turn scanned pages upright; they are ", clean.skew, ", dark borders ", clean.borders, ", punch holes ",
         clean.holes, ", specks ", clean.specks, ", colours ", _COLOURS[clean.colours], ". Read them in the ",
         f"{letter.reading} way", "."],
        list(_cleaning_warnings(clean)),
    )  # fmt: skip
    yield Line(
        "review",
        ["Ask for review when a needed value is less than ", f"{letter.review_below:.0%}", " sure, another less than ",
         f"{letter.review_others_below:.0%}", ", or a check fails. A reviewed document waits ",
         f"{letter.take_back_seconds} s", " before it goes."],
        [],
    )  # fmt: skip
    yield Line(
        "delivery",
        ["File a searchable PDF as ", letter.naming.sentence, " in ", letter.folder, ", and add a row to ",
         f"{letter.csv} and {letter.xlsx}", ". Notes and highlights are ", letter.notes,
         ". Sheets may have documents sent to ", ", ".join(letter.mail_to) or "nobody",
         ". Hand what is delivered on to ", lanes.get(letter.hand_on, "no other lane"), "."],
        [],
    )  # fmt: skip


def _warnings(rules: Separation) -> Iterator[str]:
    if rules.blank_pages == "left out" or isinstance(rules.documents, AtBlankPage):
        yield "Blank pages belong to no document and are not delivered; they stay on the page ribbon."
    sheeted = [rule for rule in (rules.bundles, rules.documents) if rule and _has_sheets(rule)]
    if sheeted and rules.sheets == "left out":
        yield "Sheets are not delivered; they stay on the page ribbon."
    if not sheeted and rules.sheets == "kept":
        yield "Nothing is cut at sheets, so keeping sheets has no effect."


_COLOURS = {"as scanned": "as they were scanned", "grey": "made grey", "black and white": "made black and white"}


def _cleaning_warnings(wanted: Cleaning) -> Iterator[str]:
    if wanted.borders == "cut off":
        yield "What lies in a dark border is cut off and not delivered; the file that arrived keeps it."
    if wanted.specks == "removed":
        yield "A dot of less than half a millimetre that stands alone is taken for a speck."
    if wanted.colours != "as scanned":
        yield "Colours are not delivered; the file that arrived keeps them."


def _has_sheets(rule: AnyRule) -> bool:
    return isinstance(rule, AtPrintedSheet) or (isinstance(rule, AtBarcode) and rule.on == "a sheet of its own")


def _names_types(rules: Separation) -> bool:
    return any(isinstance(rule, AtPrintedSheet) for rule in (rules.bundles, rules.documents))
