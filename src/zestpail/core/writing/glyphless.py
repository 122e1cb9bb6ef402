"""A font without ink for the invisible text of a searchable PDF, made anew for the characters it needs."""

from __future__ import annotations

import io
from dataclasses import dataclass

import pikepdf
from fontTools.fontBuilder import FontBuilder
from fontTools.ttLib.tables._g_l_y_f import Glyph
from pikepdf import Array, Dictionary, Name

EM = 1000
ADVANCE = 500
ASCENT, DESCENT = 800, -200
"""Units of the font: an em, the width of each glyph, and how far lines reach up and down."""


@dataclass(frozen=True)
class GlyphlessFont:
    """A Type0 font in a PDF; each character has a code of two bytes and is half an em wide."""

    font: pikepdf.Object
    codes: dict[str, int]

    def encoded(self, text: str) -> bytes:
        """The text as the bytes of a PDF string."""
        return b"".join(self.codes[c].to_bytes(2, "big") for c in text)


def glyphless_font(pdf: pikepdf.Pdf, characters: set[str]) -> GlyphlessFont:
    """Embed a font for these characters (at most 65 000)."""
    codes = {character: code for code, character in enumerate(sorted(characters | {" "}), start=1)}
    file = pdf.make_stream(_truetype(len(codes)))
    descriptor = Dictionary(
        Type=Name.FontDescriptor, FontName=Name.ZestPailInvisible, Flags=4, FontBBox=[0, DESCENT, ADVANCE, ASCENT],
        ItalicAngle=0, Ascent=ASCENT, Descent=DESCENT, CapHeight=ASCENT, StemV=80, FontFile2=file,
    )  # fmt: skip
    descendant = Dictionary(
        Type=Name.Font, Subtype=Name.CIDFontType2, BaseFont=Name.ZestPailInvisible, DW=ADVANCE,
        CIDSystemInfo=Dictionary(Registry=pikepdf.String("Adobe"), Ordering=pikepdf.String("Identity"), Supplement=0),
        CIDToGIDMap=Name.Identity, FontDescriptor=pdf.make_indirect(descriptor),
    )  # fmt: skip
    font = Dictionary(
        Type=Name.Font, Subtype=Name.Type0, BaseFont=Name.ZestPailInvisible, Encoding=Name("/Identity-H"),
        DescendantFonts=Array([pdf.make_indirect(descendant)]), ToUnicode=pdf.make_stream(_to_unicode(codes)),
    )  # fmt: skip
    return GlyphlessFont(pdf.make_indirect(font), codes)


def _truetype(count: int) -> bytes:
    names = [".notdef", *(f"c{at}" for at in range(1, count + 1))]
    builder = FontBuilder(EM, isTTF=True)
    builder.setupGlyphOrder(names)
    builder.setupCharacterMap({})
    builder.setupGlyf({name: Glyph() for name in names})
    builder.setupHorizontalMetrics(dict.fromkeys(names, (ADVANCE, 0)))
    builder.setupHorizontalHeader(ascent=ASCENT, descent=DESCENT)
    builder.setupNameTable({"familyName": "ZestPailInvisible", "styleName": "Regular"})
    builder.setupOS2()
    builder.setupPost()
    out = io.BytesIO()
    builder.save(out)
    return out.getvalue()


def _to_unicode(codes: dict[str, int]) -> bytes:
    """The mapping back to Unicode, in groups of at most 100 as the CMap format asks."""
    pairs = [f"<{code:04X}> <{character.encode('utf-16-be').hex().upper()}>" for character, code in codes.items()]
    groups = [pairs[at : at + 100] for at in range(0, len(pairs), 100)]
    body = "\n".join(f"{len(g)} beginbfchar\n" + "\n".join(g) + "\nendbfchar" for g in groups)
    return (
        "/CIDInit /ProcSet findresource begin\n12 dict begin\nbegincmap\n"
        "/CIDSystemInfo << /Registry (Adobe) /Ordering (UCS) /Supplement 0 >> def\n"
        "/CMapName /Adobe-Identity-UCS def\n/CMapType 2 def\n"
        "1 begincodespacerange\n<0000> <FFFF>\nendcodespacerange\n"
        f"{body}\nendcmap\nCMapName currentdict /CMap defineresource pop\nend\nend\n"
    ).encode("ascii")
