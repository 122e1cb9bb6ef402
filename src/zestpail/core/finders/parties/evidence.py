"""What speaks for a name being the seller's, or the buyer's: headings, place on the page, what else its block holds."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Literal

from zestpail.core.finders.context import SearchContext
from zestpail.core.finders.parties.blocks import Block, Piece, is_title
from zestpail.core.kinds.names import is_legal_form, legal_form_in
from zestpail.core.landmarks.labels import LabelMatch, folded
from zestpail.core.reading.geometry import Box, around

Heading = Literal["own", "other", "delivery", "none"]
ABOVE = 3.0
"""Heights of print between a heading and the block under it at most."""
ASIDE = 12.0
"""Heights of print between a heading and the block at its right at most."""
FOOT, HEAD = 0.86, 0.12
"""Shares of a page's height below and above which its foot and its head are."""
LEGIBLE = 0.8
"""How sure a lone letter before a name must be to be part of it, in [0, 1]."""
_TITLE = re.compile(r"(?:Mrs?|Ms|Miss|Dr|Prof|Ing|Lic|Mgr|Bc|Herrn?|Frau|Mme|M|Sra?|Sig)\b\.?(?= )")
_MESSRS = re.compile(r"(?:M/s\.? |Messrs\.? )?", re.IGNORECASE)
"""What stands before a firm's name where people are polite."""
_HOSTS = re.compile(r"(?:@|www\.|https?://)([\w-]+(?:\.[\w-]+)*)\.[a-z]{2,}", re.IGNORECASE)
_ACCOUNT = re.compile(r"\b[A-Z]{2}\d{2}(?: ?[A-Z0-9]{4}){3,}|\bIBAN\b|\bBIC\b|\bSWIFT\b")


@dataclass(frozen=True)
class NameInBlock:
    """A name, the block that it heads, and where among the block's names it stands."""

    spans: tuple[tuple[Piece, int, int], ...]
    """Its pieces of lines, each from one character to another; several where it is broken."""
    block: Block
    rank: int
    others: tuple[str, ...]
    """The other names at the head of the block."""

    @property
    def piece(self) -> Piece:
        return self.spans[0][0]

    @property
    def text(self) -> str:
        return _joined(self.spans)

    @property
    def box(self) -> Box:
        return around(piece.line.box_of(start, end) for piece, start, end in self.spans)

    @property
    def confidence(self) -> float:
        return min(piece.line.confidence_of(start, end) for piece, start, end in self.spans)


Span = tuple[Piece, int, int]


def names_in(context: SearchContext, block: Block) -> list[NameInBlock]:
    """The names at the head of a block: what stands before its street and place, without headings and titles."""
    found: list[tuple[Span, ...]] = []
    for span in _spans(context, block):
        if found and _goes_on(_joined(found[-1]), _joined((span,))):
            found[-1] = (*found[-1], span)
        else:
            found.append((span,))
    texts = [_joined(spans) for spans in found]
    return [NameInBlock(spans, block, at, (*texts[:at], *texts[at + 1 :])) for at, spans in enumerate(found)]


def _joined(spans: Sequence[Span]) -> str:
    return " ".join(piece.line.text[start:end].strip(" ,;:·|") for piece, start, end in spans)


def _goes_on(name: str, below: str) -> bool:
    """Whether the line under a name is the rest of it: a legal form by itself, or what "and" leads to."""
    return is_legal_form(below) or name.endswith((" &", " +", " und", " and", " et"))


def _spans(context: SearchContext, block: Block) -> Iterator[Span]:
    count = 0
    for piece in block.pieces:
        matches = [match for match in context.matches_on(piece.line) if piece.start <= match.start < piece.end]
        if is_title(piece) or any(piece.within(match) or _in_two_languages(piece, match) for match in matches):
            continue
        if piece.part == "person_to_ask" or (count == 0 and piece.is_sender_line):
            continue
        start = piece.start
        for match in matches:  # "Buyer: Tidewell Joinery"
            after = piece.line.text[match.end : piece.end]
            if match.start - start <= 1 and re.match(r"\s*:", after):
                start = match.end + len(after) - len(after.lstrip(" :"))
        start = _without_specks(piece, start)
        start += len(_MESSRS.match(piece.line.text[start : piece.end])[0])  # type: ignore[index] # it may be empty
        if not any(c.isalpha() for c in piece.line.text[start : piece.end]):
            continue
        if piece.part not in ("name", "street") or (piece.part == "street" and count > 0):
            return
        if start == piece.start and any(":" in piece.line.text[m.end : m.end + 2] for m in matches):
            continue
        yield piece, start, piece.end
        count += 1


def _without_specks(piece: Piece, start: int) -> int:
    """Where a name begins behind a lone letter that is hardly legible: a piece of a logo that was read as one."""
    speck = re.match(r"\S\s+(?=\S{2})", piece.line.text[start : piece.end])
    if speck and piece.line.confidence_of(start, start + 1) < LEGIBLE:
        return start + speck.end()
    return start


def _in_two_languages(piece: Piece, match: LabelMatch) -> bool:
    """Whether it is the label and, behind or before a stroke, the same in another language: "Seller / Pardavėjas"."""
    sides = [side.strip(" :") for side in piece.text.split("/")]
    return len(sides) == 2 and match.line.text[match.start : match.end].strip(" :") in sides and len(piece.text) <= 40


def heading_of(
    context: SearchContext,
    block: Block,
    own: str,
    other: Callable[[LabelMatch], bool],
    delivery: Callable[[LabelMatch], bool],
) -> Heading:
    """Whose heading stands over the block, before it or in its first lines; ``own`` is the key of the party's field."""
    near = [(apart, at) for at, match in enumerate(context.matches) if (apart := _apart(match, block)) is not None]
    for _, at in sorted(near):
        match = context.matches[at]
        if delivery(match):
            return "delivery"
        if match.label.owner == own:
            return "own"
        if other(match):
            return "other"
    return "none"


def _apart(match: LabelMatch, block: Block) -> float | None:
    """How far over the block, or left of it, the label stands, in heights of print; None where it does not."""
    if match.line.page != block.page:
        return None
    first, size = block.pieces[0], block.pieces[0].height
    inside = any(piece.line is match.line and piece.start <= match.start < piece.end for piece in block.pieces[:2])
    if inside:
        return 0.0
    over = (first.box.y0 - match.box.y1) / size
    line = match.line
    alone = block.one_line and "\t" not in line.text and abs(line.box.x0 - first.line.box.x0) < size
    if -0.3 < over < ABOVE and (alone or match.box.stacked(block.box) > 0.3 or abs(match.box.x0 - block.box.x0) < size):
        return max(over, 0.0) + (0.2 if alone else 0.1)
    left = (first.box.x0 - match.box.x1) / size
    if match.box.side_by_side(first.box) > 0.4 and 0 <= left < ASIDE:
        return 0.3 + left / ASIDE
    return None


def facts_of(
    context: SearchContext, name: NameInBlock, heading: Heading, headed: bool, blocks: Sequence[Block]
) -> dict[str, float]:
    """What is known of a name, each in [0, 1]; ``headed`` says whether some other block has this party's heading."""
    block, page = name.block, context.document.pages[name.block.page]
    texts = [line.text for line in context.lines]
    bare = folded(name.text)
    heights = sorted(line.height for line in context.lines if line.page == block.page)
    middle = heights[len(heights) // 2] if heights else 1.0
    near = " ".join(line.text for line in context.lines if line.page == block.page and _beside(block, line.box))
    order = [other for other in blocks if not other.one_line].index(block) if not block.one_line else 9
    return {
        "headed": float(heading == "own"),
        "others_heading": float(heading == "other"),
        "delivery": float(heading == "delivery"),
        "headed_elsewhere": float(headed and heading != "own"),
        "foot": float(block.box.cy > FOOT * page.height),
        "head": float(block.box.y0 < HEAD * page.height),
        "lower_half": float(0.5 * page.height < block.box.cy <= FOOT * page.height),
        "right": float(block.box.cx > 0.55 * page.width),
        "print": min(name.piece.height / middle / 3, 1.0),
        "account": float(bool(_ACCOUNT.search(near))),
        "number": float(block.has("number")),
        "contact": float(block.has("contact")),
        "asked": float(block.has("person_to_ask")),
        "own_host": float(_has_host(texts, bare)),
        "repeated": min(sum(bare in folded(text) for text in texts) - 1, 3) / 3,
        "legal_form": float(legal_form_in(name.text)),
        "longer": float(not legal_form_in(name.text) and any(_is_longer(text, name.text) for text in texts)),
        "one_line": float(block.one_line),
        "under_name": float(block.under_name),
        "beside": float(block.beside),
        "second_line": float(name.rank > 0),
        "first_block": float(order == 0),
        "later_block": float(order > 1),
        "person": _personal(name.text),
        "titled": float(bool(_TITLE.match(name.text))),
        "more_names": float(name.rank == 0 and bool(name.others)),
        "outdone": float(any(_telling(texts, other) > _telling(texts, name.text) for other in name.others)),
        "street": float(name.piece.part == "street"),
        "part_label": float(
            any(
                m.line is piece.line and m.start < end and start < m.end
                for piece, start, end in name.spans
                for m in context.matches_on(piece.line)
            )
        ),
        "words": min(len(name.text.split()), 6) / 6,
    }


def _beside(block: Block, box: Box) -> bool:
    """Whether something stands in the block or right under it."""
    return block.box.y0 - 2 <= box.cy <= block.box.y1 + 4 * block.pieces[-1].height and block.box.stacked(box) > 0


def _has_host(texts: Sequence[str], bare: str) -> bool:
    return any(_alike(bare, host) for text in texts for host in _HOSTS.findall(text))


def _telling(texts: Sequence[str], name: str) -> int:
    """How surely a text is a firm's name: by its legal form, or as the name of a host."""
    return 2 * legal_form_in(name) + _has_host(texts, folded(name))


def _is_longer(text: str, name: str) -> bool:
    """Whether the name stands in the text with a legal form behind it: it is the short one of a firm."""
    at = text.find(name)
    rest = text[at + len(name) :].split("\t", 1)[0] if at >= 0 else ""
    return any(is_legal_form(" ".join(rest.split()[:many]).strip(",")) for many in range(1, 5)) if rest else False


def _alike(bare: str, host: str) -> bool:
    """Whether the host's name is made of the name's letters: ``orders@chandlery-direct.example``."""
    core = folded(host.rsplit(".", 1)[-1])
    return len(core) >= 4 and (core in bare or (len(bare) >= 4 and bare[:10] in core))


def _personal(text: str) -> float:
    """The share of a name's words that are first names, as far as it has two to four words and no legal form."""
    words = [word for word in re.findall(r"[^\W\d_]{2,}", _TITLE.sub("", text)) if word[0].isupper()]
    if not 2 <= len(words) <= 4 or legal_form_in(text):
        return 0.0
    return min(sum(folded(word) in _first_names() for word in words), 2) / 2


@cache
def _first_names() -> frozenset[str]:
    text = (resources.files("zestpail.core.finders.parties") / "first_names.txt").read_text("utf-8")
    return frozenset(text.split())
