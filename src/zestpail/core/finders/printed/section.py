"""The finder of the text under a heading, over page breaks and without what stands on top and foot of every page."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from itertools import pairwise
from statistics import median
from typing import Annotated, ClassVar, Literal

from pydantic import Field
from rapidfuzz import fuzz

from zestpail.core.finders.candidate import Candidate, legibility
from zestpail.core.finders.context import FieldTarget, SearchContext
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.landmarks.labels import Label, LabelMatch, folded
from zestpail.core.reading.geometry import around
from zestpail.core.reading.lines import Line
from zestpail.core.setting import Setting

SHOWN = 3
"""Headings that a sentence names; the others are counted."""
EDGE = 0.11
"""The share of a page's height at its top and foot in which running heads and page numbers stand."""
SAME = 88.0
"""How alike (0 to 100) two lines of different pages are that are a running head, figures aside."""
LARGER = 1.12
"""A heading is at least so many times as tall as the text, where it is not told by its number or capitals."""
MOST_WORDS = 8
"""A heading has no more words than this; longer lines are text."""
NEW_PARAGRAPH = 1.0
"""A gap of more than this share of a line's height over the usual one begins a paragraph."""
NUMBERED = re.compile(r"\(?(?:\d{1,2}(?:\.\d{1,2})*|[IVX]{1,4}|[A-H])[.):]?\s+")


class Section(Finder):
    """Take the text under a heading, up to the next one."""

    title: ClassVar[str] = "The whole text under a heading"
    added_by: ClassVar[str] = "headings"
    finder: Literal["section"] = "section"
    headings: Annotated[tuple[str, ...], Setting("headings, one a line", "lines")] = Field(min_length=1)
    until: Annotated[tuple[str, ...], Setting("up to these headings too", "lines")] = ()
    """Headings at which it ends; any line that looks like its own heading ends it too."""

    def pieces(self) -> Iterator[Piece]:
        """The rule as a person reads it."""
        more = f" and {len(self.headings) - SHOWN} more" if len(self.headings) > SHOWN else ""
        yield Piece("Take the text under ")
        yield Piece(" or ".join(f"“{heading}”" for heading in self.headings[:SHOWN]) + more, "section.headings")
        yield Piece(", over page breaks, up to ")
        ends = " or ".join(f"“{heading}”" for heading in self.until[:SHOWN])
        yield Piece(f"{ends} or the next heading" if ends else "the next heading", "section.until")
        yield Piece(".")

    def wordings(self, key: str) -> Iterator[Label]:
        """The headings as they take part in the matching."""
        yield from (Label(text, key) for text in self.headings)
        yield from (Label(text, None) for text in self.until)

    def candidates(self, context: SearchContext, target: FieldTarget) -> Iterator[Candidate]:
        """The text under each place where a heading stands by itself on its line."""
        running = _running(context)
        lines = [line for line in context.lines if id(line) not in running]
        usual = median([line.height for line in lines]) if lines else 0.0
        for match in context.matches:
            if match.label.owner != target.key or not _by_itself(match) or id(match.line) in running:
                continue
            after = lines[lines.index(match.line) + 1 :]
            body = list(_up_to_next(context, match, after, usual))
            if not body:
                continue
            text = _paragraphs(body, target)
            sure = median([word.confidence for line in body for word in line.words])
            first = [line for line in body if line.page == body[0].page]
            yield Candidate(
                value=text, raw="\n".join(line.text.replace("\t", " ") for line in body), page=body[0].page,
                box=around(line.box for line in first), confidence=round(sure, 3), finder=self.finder,
                parts={"heading": round(match.similarity, 3), "reading": legibility(sure)},
                reason=_reason(match, body), made=True,
            )  # fmt: skip


def _reason(match: LabelMatch, body: Sequence[Line]) -> str:
    pages = body[-1].page - body[0].page + 1
    return f"under “{match.line.text.strip()}”" + (f", over {pages} pages" if pages > 1 else "")


def _by_itself(match: LabelMatch) -> bool:
    """Whether the heading is all of its line, but for a number before it and a colon after it."""
    before, after = match.line.text[: match.start], match.line.text[match.end :].strip(" .:")
    return not after and (not before.strip() or bool(NUMBERED.fullmatch(before.strip() + " ")))


def _up_to_next(context: SearchContext, match: LabelMatch, lines: Sequence[Line], usual: float) -> Iterator[Line]:
    """The lines up to the next heading: another known one, or a line that looks as this one does."""
    for line in lines:
        known = any(m.label is not match.label and _by_itself(m) for m in context.matches_on(line))
        if known or _looks_like(match.line, line, usual):
            return
        yield line


def _looks_like(heading: Line, line: Line, usual: float) -> bool:
    text, own = line.text.strip(), heading.text.strip()
    words = NUMBERED.sub("", text, count=1).split()
    if not words or len(words) > MOST_WORDS or text.endswith((".", ",", ";")) or "\t" in text:
        return False
    if abs(line.box.x0 - heading.box.x0) > 2 * heading.height:
        return False
    numbered = bool(NUMBERED.match(own))
    if numbered:
        return bool(NUMBERED.match(text)) and words[0][:1].isupper() and _depth(text) <= _depth(own)
    if own.isupper():
        return text.isupper()
    tall = heading.height >= LARGER * usual
    return tall and line.height >= 0.93 * heading.height and words[0][:1].isupper()


def _depth(text: str) -> int:
    found = re.match(r"\d{1,2}((?:\.\d{1,2})*)", text)
    return found[1].count(".") if found else 0


def _running(context: SearchContext) -> set[int]:
    """Lines at the top or foot of a page that another page has too, figures aside."""
    edges: list[Line] = []
    for line in context.lines:
        height = context.document.pages[line.page].height
        if line.box.cy < EDGE * height or line.box.cy > (1 - EDGE) * height:
            edges.append(line)
    same: set[int] = set()
    for line in edges:
        text = _without_figures(line)
        alike = any(
            other.page != line.page
            and abs(other.box.cy - line.box.cy) < 2 * line.height
            and fuzz.ratio(text, _without_figures(other)) >= SAME
            for other in edges
        )
        if alike:
            same.add(id(line))
    return same


def _without_figures(line: Line) -> str:
    return re.sub(r"\d+", "0", folded(line.text)) or line.text


def _paragraphs(lines: Sequence[Line], target: FieldTarget) -> str:
    """The text with a line break between paragraphs; a paragraph goes on over a page break."""
    gaps = [b.box.y0 - a.box.y1 for a, b in pairwise(lines) if a.page == b.page]
    usual = median(gaps) if gaps else 0.0
    groups: list[list[Line]] = [[lines[0]]]
    for before, line in pairwise(lines):
        wide = line.page == before.page and line.box.y0 - before.box.y1 > usual + NEW_PARAGRAPH * line.height * 0.5
        ended = line.page != before.page and before.text.rstrip().endswith((".", "!", "?", ":"))
        listed = bool(re.match(r"[-–•*]\s|\(?[a-z0-9]{1,2}[.)]\s", line.text))
        if wide or listed or ended:
            groups.append([line])
        else:
            groups[-1].append(line)
    return "\n".join(target.kind.joined([line.text.replace("\t", " ") for line in group]) for group in groups)
