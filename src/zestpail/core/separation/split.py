"""Cutting a pile in one pass: every page goes into a document or is left out, and it is said why."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from pydantic import BaseModel, ConfigDict

from zestpail.core.reading.page import PageReading
from zestpail.core.separation.rules import At, Begun, Separation

BEFORE_THE_FIRST = "stood before the first beginning of a document"


class SplitDocument(BaseModel):
    """A document of the pile."""

    model_config = ConfigDict(frozen=True)

    pages: tuple[int, ...]
    """Numbers of its pages in the pile, from 0."""
    why: str
    """Why it begins where it does."""
    type: str = ""
    values: dict[str, str] = {}
    """What sheets and barcodes said of it, and of its bundle."""
    mail: str = ""
    bundle: int | None = None
    """Number of its bundle, from 0."""
    doubt: str = ""
    """What a person should know of how it was cut."""


class LeftOut(BaseModel):
    """A page that goes into no document."""

    model_config = ConfigDict(frozen=True)

    page: int
    why: str


class SplitResult(BaseModel):
    """What became of every page."""

    model_config = ConfigDict(frozen=True)

    documents: tuple[SplitDocument, ...] = ()
    left_out: tuple[LeftOut, ...] = ()


@dataclass
class _Open:
    """A document as its pages come."""

    begun: Begun
    pages: list[int] = field(default_factory=list)


@dataclass
class _Bundle:
    number: int
    begun: Begun


def split_stack(pages: Sequence[PageReading], separation: Separation) -> SplitResult:
    """Cut the pile.

    A sheet is a page of what follows only if sheets are kept. Blank pages that are left out count for nothing. A
    document without a page, because one sheet follows another, is none: the first sheet is left out and says so.
    """
    splitter = _Splitter(separation)
    for number, page in enumerate(pages):
        splitter.take(number, page)
    splitter.close()
    return SplitResult(documents=tuple(splitter.documents), left_out=tuple(splitter.left_out))


class _Splitter:
    def __init__(self, separation: Separation) -> None:
        self.rules = separation
        self.documents: list[SplitDocument] = []
        self.left_out: list[LeftOut] = []
        self.open: _Open | None = None
        self.bundle: _Bundle | None = None

    def take(self, number: int, page: PageReading) -> None:
        bundle = self.rules.bundles.begun(At(page, self._length, "bundle")) if self.rules.bundles else None
        document = self.rules.documents.begun(At(page, self._length, "document"))
        if bundle:
            self.close()
            self.bundle = _Bundle(self.bundle.number + 1 if self.bundle else 0, bundle)
        if document:
            self.close()
            self.open = _Open(document)
        sheet = next((begun for begun in (document, bundle) if begun and begun.sheet), None)
        if sheet and (self.rules.sheets == "left_out" or page.blank):
            self.left_out.append(LeftOut(page=number, why=sheet.why if not page.blank else "blank"))
        elif page.blank and self.rules.blank_pages == "left_out":
            self.left_out.append(LeftOut(page=number, why="blank"))
        else:
            self.open = self.open or _Open(self._without_rule)
            self.open.pages.append(number)

    def close(self) -> None:
        """End the document at hand."""
        if self.open and self.open.pages:
            begun, bundle = self.open.begun, self.bundle
            self.documents.append(
                SplitDocument(
                    pages=tuple(self.open.pages),
                    why=begun.why,
                    type=begun.type or (bundle.begun.type if bundle else ""),
                    values={**(bundle.begun.values if bundle else {}), **begun.values},
                    mail=begun.mail or (bundle.begun.mail if bundle else ""),
                    bundle=bundle.number if bundle else None,
                    doubt=begun.why if begun.unexpected else "",
                )
            )
        self.open = None

    @property
    def _length(self) -> int:
        return len(self.open.pages) if self.open else 0

    @property
    def _without_rule(self) -> Begun:
        """What begins at a page where no rule says so: the pile, its bundle, or what should not be there."""
        kind = self.rules.documents.begin
        if kind in ("each_file", "every_pages", "blank_page", "recognised"):
            return Begun(why="the first page" if self.bundle is None else self.bundle.begun.why)
        return Begun(why=BEFORE_THE_FIRST, unexpected=True)
