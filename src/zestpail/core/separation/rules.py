"""What begins a new document or bundle, as data: each rule says itself in a sentence and looks at one page."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Literal

import regex
from pydantic import BaseModel, ConfigDict, Field, field_validator

from zestpail.core.reading.page import Barcode, PageReading
from zestpail.core.separation.sheet_codes import SheetCode, codes_on

SECONDS = 0.2
"""The longest that a pattern may take on one barcode."""


FIRST_PAGES: dict[str, str] = {"first_page": "the first page", "own_sheet": "a sheet of its own"}
BEGINNINGS: dict[str, str] = {
    "each_file": "with each file",
    "every_pages": "after a number of pages",
    "barcode": "at a barcode",
    "printed_sheet": "at a printed sheet",
    "blank_page": "at a blank page",
    "words": "at words",
    "recognised": "at first pages that are recognised",
}
KEPT_OR_NOT: dict[str, str] = {"kept": "kept", "left_out": "left out"}
GOES_ON: dict[str, str] = {"at_once": "at once", "after_look": "after somebody has checked the splits"}


class Begun(BaseModel):
    """That something begins at a page, and what the page says of it."""

    model_config = ConfigDict(frozen=True)

    why: str
    sheet: bool = False
    """Whether the page is a sheet that only says so, and no page of the document."""
    type: str = ""
    values: dict[str, str] = {}
    mail: str = ""
    unexpected: bool = False
    """Whether no rule says that something begins there."""


@dataclass(frozen=True)
class At:
    """A page of the pile as a rule looks at it."""

    page: PageReading
    since: int
    """Pages of the document so far; sheets count for none."""
    what: Literal["document", "bundle"]
    """What might begin there."""


class Rule(BaseModel):
    model_config = ConfigDict(frozen=True)

    @property
    def gives(self) -> str:
        """The value that what begins is given by it; "" for none."""
        return ""

    @property
    def has_sheets(self) -> bool:
        """Whether what begins is announced by a sheet of its own, which can be left out."""
        return False

    @property
    def names_types(self) -> bool:
        """Whether what announces it may say of which type it is."""
        return False

    def sentence(self, what: str) -> str:
        """It as a person reads it; ``what`` begins: a document or a bundle."""
        raise NotImplementedError

    def begun(self, at: At) -> Begun | None:
        """What begins at the page, if anything does."""
        raise NotImplementedError


class EachFile(Rule):
    """Every file is one."""

    begin: Literal["each_file"] = "each_file"

    def sentence(self, what: str) -> str:
        return f"every file is {what}"

    def begun(self, _at: At) -> Begun | None:
        return None


class EveryPages(Rule):
    """After so many pages."""

    begin: Literal["every_pages"] = "every_pages"
    pages: int = Field(default=1, ge=1, le=9999)

    def sentence(self, what: str) -> str:
        return f"{what} is {'one page' if self.pages == 1 else f'{self.pages} pages'}"

    def begun(self, at: At) -> Begun | None:
        return Begun(why=f"after {at.since} {'page' if at.since == 1 else 'pages'}") if at.since >= self.pages else None


class AtBarcode(Rule):
    """At a barcode of a certain look; others on the page are ignored."""

    begin: Literal["barcode"] = "barcode"
    begins_with: str = ""
    pattern: str = ""
    """A regular expression that all of the text must match, for those who want one."""
    never: str = ""
    """Barcodes that begin with this are ignored."""
    symbologies: tuple[str, ...] = ()
    """Which ones; none means all."""
    on: Literal["first_page", "own_sheet"] = "first_page"
    how_many: int = Field(default=1, ge=1, le=20)
    """How many such barcodes the page must have at least."""
    field: str = ""
    """What its text becomes a value of."""

    @property
    def gives(self) -> str:
        return self.field

    @property
    def has_sheets(self) -> bool:
        return self.on == "own_sheet"

    @field_validator("pattern")
    @classmethod
    def _understood(cls, pattern: str) -> str:
        try:
            regex.compile(pattern)
        except regex.error as problem:
            raise ValueError(f"the pattern cannot be understood: {problem}") from problem
        return pattern

    def sentence(self, what: str) -> str:
        like = f" of the kind {' or '.join(self.symbologies)}" if self.symbologies else ""
        like += f" that begins with {self.begins_with}" if self.begins_with else ""
        like += f" like {self.pattern}" if self.pattern else ""
        like += f" but not with {self.never}" if self.never else ""
        where = "on its first page" if self.on == "first_page" else "on a sheet before it"
        many = f" that has {self.how_many} of them at least" if self.how_many > 1 else ""
        return f"{what} begins at every barcode{like}, {where}{many}"

    def begun(self, at: At) -> Begun | None:
        found = list(self.fitting(at.page))
        if len(found) < self.how_many:
            return None
        values = {self.field: found[0].text} if self.field else {}
        return Begun(why=f"barcode {found[0].text}", sheet=self.on == "own_sheet", values=values)

    def fitting(self, page: PageReading) -> Iterator[Barcode]:
        """The barcodes of the page that it speaks of, top to bottom."""
        for code in page.barcodes:
            if self.symbologies and code.symbology not in self.symbologies:
                continue
            if not code.text.startswith(self.begins_with) or (self.never and code.text.startswith(self.never)):
                continue
            if not self.pattern or _matches(self.pattern, code.text):
                yield code


class AtPrintedSheet(Rule):
    """At our own printed sheets, which also say the type, values and where to send."""

    begin: Literal["printed_sheet"] = "printed_sheet"

    @property
    def has_sheets(self) -> bool:
        return True

    @property
    def names_types(self) -> bool:
        return True

    def sentence(self, what: str) -> str:
        sheet = "cover" if "bundle" in what else "separator"
        return f"{what} begins at every printed {sheet} sheet"

    def begun(self, at: At) -> Begun | None:
        codes = codes_on(at.page.barcodes)
        first = next((code for code in codes if code.act == at.what), None)
        if first is None:
            return None
        return Begun(
            why="cover sheet" if at.what == "bundle" else "separator sheet",
            sheet=True,
            type=first.name,
            values={code.name: code.value for code in codes if code.act == "value"},
            mail=_mail(codes),
        )


class AtBlankPage(Rule):
    """At a blank page, which is left out."""

    begin: Literal["blank_page"] = "blank_page"

    def sentence(self, what: str) -> str:
        return f"{what} begins after every blank page"

    def begun(self, at: At) -> Begun | None:
        return Begun(why="after a blank page", sheet=True) if at.page.blank else None


class AtWords(Rule):
    """At a page that has certain words on it."""

    begin: Literal["words"] = "words"
    words: tuple[str, ...] = Field(min_length=1)

    def sentence(self, what: str) -> str:
        return f"{what} begins at every page that says {' or '.join(f'“{word}”' for word in self.words)}"

    def begun(self, at: At) -> Begun | None:
        text = " ".join(word.text for word in at.page.words).casefold()
        message = next((words for words in self.words if " ".join(words.casefold().split()) in text), None)
        return Begun(why=f"the page says “{message}”") if message else None


class AtRecognised(Rule):
    """At pages that look like a first page; printed sheets, and barcodes or blank pages if wanted, are beginnings too.

    It says only what sheets, barcodes and blank pages say: what a page looks like is told when all of them are known.
    """

    begin: Literal["recognised"] = "recognised"
    begins_with: str = ""
    """What barcodes begin with that announce a document; none where it is empty."""
    blank: Literal["goes_on", "begins"] = "goes_on"
    """Whether a document begins after a blank page in any case."""

    @property
    def has_sheets(self) -> bool:
        return True

    @property
    def names_types(self) -> bool:
        return True

    def sentence(self, what: str) -> str:
        others = [f"at barcodes that begin with {self.begins_with}"] if self.begins_with else []
        others += ["after blank pages"] if self.blank == "begins" else []
        also = f", and also {' and '.join(others)}" if others else ""
        return f"{what} begins at every page that is recognised as a first page{also}"

    def begun(self, at: At) -> Begun | None:
        rules: list[Rule] = [AtPrintedSheet()]
        rules += [AtBarcode(begins_with=self.begins_with)] if self.begins_with else []
        rules += [AtBlankPage()] if self.blank == "begins" else []
        return next((begun for rule in rules if (begun := rule.begun(at))), None)


AnyRule = Annotated[
    EachFile | EveryPages | AtBarcode | AtPrintedSheet | AtBlankPage | AtWords | AtRecognised,
    Field(discriminator="begin"),
]


class Separation(BaseModel):
    """How a pile is cut, in one pass: into bundles, if there are any, and into documents."""

    model_config = ConfigDict(frozen=True)

    bundles: AnyRule | None = None
    documents: AnyRule = EachFile()
    blank_pages: Literal["kept", "left_out"] = "kept"
    sheets: Literal["left_out", "kept"] = "left_out"
    goes_on: Literal["at_once", "after_look"] = "at_once"

    @property
    def drops_blank_pages(self) -> bool:
        """Whether blank pages go into no document."""
        return self.blank_pages == "left_out" or self.documents.begin == "blank_page"

    @property
    def rules(self) -> tuple[AnyRule, ...]:
        """For bundles, if there are any, and for documents."""
        return (*((self.bundles,) if self.bundles else ()), self.documents)

    @property
    def each_file(self) -> bool:
        """Whether nothing is cut, so that it is known at once what a document is."""
        plain = self.bundles is None and self.documents.begin == "each_file" and self.blank_pages == "kept"
        return plain and self.goes_on == "at_once"

    @property
    def sentence(self) -> str:
        """It as a person reads it."""
        message = [self.bundles.sentence("a bundle")] if self.bundles else []
        message.append(self.documents.sentence("a document"))
        if self.blank_pages == "left_out":
            message.append("blank pages are left out")
        if self.sheets == "kept":
            message.append("sheets stay with their documents")
        if self.goes_on != "at_once":
            message.append("a person looks at the cuts before documents go on")
        return "; ".join(message)


def _mail(codes: tuple[SheetCode, ...]) -> str:
    return next((code.value for code in codes if code.act == "mail"), "")


def _matches(pattern: str, text: str) -> bool:
    try:
        return regex.fullmatch(pattern, text, timeout=SECONDS) is not None
    except TimeoutError:
        return False
