"""Generators of hostile input: files, e-mails, packages, texts, formulas and settings that nobody means well with.

Everything is made here, from nothing; no file of anybody else is changed.
"""

from __future__ import annotations

import io
import json
import zipfile
from email.message import EmailMessage
from functools import cache
from typing import Any

import pikepdf
from hypothesis import strategies as st
from PIL import Image, ImageDraw

from zestpail.core.document_type import load_type

_PLAIN_TRAPS = (
    "..", "../../etc/passwd", "/etc/passwd", "C:\\x", "CON", "nul.pdf", ".", "NaN", "Infinity", "-Infinity",
    "1e999999", "-0", "0x1f", "=cmd|x", "{{7*7}}", "%s%n", "$(id)", "<script>", "2026-02-30", "0000-00-00",
    "9999-12-31", "١٢٣", "½", "²", "a,b", "a;b",
)  # fmt: skip
_OTHER_TRAPS = ("\0", "a\0b", " ", "\u202egpj.exe", "\ud800", "9" * 300, "'; --", "é" * 90, "\U0001f980" * 70)
TEXT = st.text(max_size=60) | st.sampled_from((*_PLAIN_TRAPS, *_OTHER_TRAPS))
NUMBERS = st.integers() | st.floats() | st.sampled_from((10**30, -(10**30), 1e308, 2**63))
JSON = st.recursive(
    st.none() | st.booleans() | NUMBERS | TEXT,
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(TEXT, inner, max_size=4),
    max_leaves=12,
)


@cache
def files() -> tuple[bytes, ...]:
    """Sound files of all kinds, small, for others to be made of."""
    picture = Image.new("L", (160, 120), 255)
    ImageDraw.Draw(picture).text((10, 40), "Maren Tide 42.50", fill=0)
    made = []
    kinds = [(kind, "") for kind in ("PNG", "JPEG", "BMP", "GIF", "WEBP", "PDF")]
    for kind, compression in (*kinds, ("TIFF", "tiff_lzw"), ("TIFF", "group4")):
        out = io.BytesIO()
        drawn = picture.convert("1") if compression == "group4" else picture
        drawn.save(out, kind, **({"compression": compression} if compression else {}))
        made.append(out.getvalue())
    pages = io.BytesIO()
    picture.save(pages, "TIFF", save_all=True, append_images=[picture.rotate(90)] * 3)
    return (*made, pages.getvalue(), _form())


def _form() -> bytes:
    """A PDF with text, a form field, a note and a name for each of its objects."""
    pdf, out = pikepdf.new(), io.BytesIO()
    font = pikepdf.Dictionary(Type=pikepdf.Name.Font, Subtype=pikepdf.Name.Type1, BaseFont=pikepdf.Name.Helvetica)
    page = pdf.add_blank_page(page_size=(200, 200))
    page.Resources = pikepdf.Dictionary(Font=pikepdf.Dictionary(F=pdf.make_indirect(font)))
    page.Contents = pdf.make_stream(b"BT /F 12 Tf 20 100 Td (Vessel Maren Tide) Tj ET 0 0 m 100 100 l S")
    field = pdf.make_indirect(
        pikepdf.Dictionary(
            Type=pikepdf.Name.Annot, Subtype=pikepdf.Name.Widget, FT=pikepdf.Name.Tx, T="litres", V="420",
            Rect=pikepdf.Array([20, 20, 90, 40]), DA="/F 12 Tf",
        )
    )  # fmt: skip
    page.Annots = pikepdf.Array([field])
    pdf.Root.AcroForm = pikepdf.Dictionary(Fields=pikepdf.Array([field]))
    pdf.save(out, object_stream_mode=pikepdf.ObjectStreamMode.disable, compress_streams=False)
    return out.getvalue()


_ABSURD = st.sampled_from((b"\xff\xff\xff\xff", b"\x7f\xff\xff\xff", b"\0\0\0\0", b"9999"))


@st.composite
def spoilt(draw: st.DrawFn, sound: st.SearchStrategy[bytes]) -> bytes:
    """Bytes with pieces overwritten, cut, doubled, moved, or numbers in them made absurd."""
    data = bytearray(draw(sound))
    for _ in range(draw(st.integers(1, 5))):
        at = draw(st.integers(0, max(len(data) - 1, 0)))
        match draw(st.integers(0, 5)):
            case 0:
                data[at : at + 4] = draw(st.binary(min_size=1, max_size=8))
            case 1:
                del data[at : at + draw(st.integers(1, 200))]
            case 2:
                data[at:at] = data[at : at + draw(st.integers(1, 400))] * draw(st.integers(1, 9))
            case 3:
                del data[at:]
            case 4:
                data[at : at + 4] = draw(_ABSURD)
            case 5:
                data = data.replace(b" 0 R", draw(st.sampled_from((b" 9 R", b"     "))), draw(st.integers(0, 3)))
    return bytes(data)


def any_file() -> st.SearchStrategy[bytes]:
    """A file that is damaged on purpose."""
    return spoilt(st.sampled_from(files()))


@st.composite
def mail(draw: st.DrawFn) -> bytes:
    """An e-mail whose headers, parts and names are odd."""
    message = EmailMessage()
    for name in ("From", "To", "Cc", "Subject", "Date", "Message-ID"):
        if draw(st.booleans()):
            message[name] = "x"
    message.set_content(draw(st.sampled_from(("plain\n", ""))))
    if draw(st.booleans()):
        html = draw(TEXT).encode("utf-8", "replace").decode()
        message.add_alternative(html * draw(st.integers(1, 9)), subtype="html")
    for _ in range(draw(st.integers(0, 3))):
        message.add_attachment(draw(any_file()), maintype="application", subtype="pdf", filename="bill.pdf")
    for at, part in enumerate(message.walk()):
        if part.is_multipart():
            part.set_boundary(f"part-{at}")  # Python would draw lots for it
    data = message.as_bytes()
    odd = st.sampled_from((*b'< <a@ =?utf-8?b?////?= =?x?q?=00?= \xff\xfe a@b,< "'.split(), b"x" * 3000))
    for name in (b"From: x", b"To: x", b"Cc: x", b"Subject: x", b"Date: x", b"Message-ID: x", b"bill.pdf", b"base64"):
        if draw(st.booleans()):
            data = data.replace(name, name.split(b" ")[0] + b" " + draw(odd), 1)
    return draw(spoilt(st.just(data))) if draw(st.booleans()) else data


@st.composite
def package(draw: st.DrawFn) -> bytes:
    """A zip whose names, sizes and flags are odd."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", draw(st.sampled_from((zipfile.ZIP_DEFLATED, zipfile.ZIP_STORED)))) as made:
        for at in range(draw(st.integers(0, 4))):
            name = draw(TEXT).encode("utf-8", "replace").decode().replace("\0", "") or f"{at}.txt"
            made.writestr(name, draw(st.binary(max_size=300) | any_file()))
    data = out.getvalue()
    return draw(spoilt(st.just(data))) if draw(st.booleans()) else data


_PIECES = (
    "net", "tax", "total", "lines.amount", "lines", "1", "0", "9999999999", "1e99", "0.1", "'x'", '"2026-01-01"', "+",
    "-", "*", "/", "**", "%", "//", "==", "!=", "<", "<=", ">", ">=", "and", "or", "not", "(", ")", ",", ".", "[",
    "]", "{", "}", "lambda:", "sum(", "count(", "days(", "abs(", "round(", "min(", "max(", "length(", "__import__",
    "if", "else", ":=", "await", "\\", "#", "f'{net}'",
)  # fmt: skip
FORMULA = st.lists(st.sampled_from((*_PIECES, " ", "\n")), max_size=24).flatmap(
    lambda pieces: st.sampled_from(("".join(pieces), " ".join(pieces)))
)
VALUES = st.dictionaries(st.sampled_from(("net", "tax", "total", "amount")), st.none() | TEXT, max_size=4)


@st.composite
def type_file(draw: st.DrawFn) -> bytes:
    """A document type in which some entries are others."""
    body = json.loads(load_type(draw(st.sampled_from(("supplier-invoice", "supplier-statement")))).model_dump_json())
    for _ in range(draw(st.integers(1, 4))):
        place: Any = body
        for _ in range(draw(st.integers(0, 6))):
            inner = place[draw(st.sampled_from(sorted(place)))] if isinstance(place, dict) and place else None
            inner = place[draw(st.integers(0, len(place) - 1))] if isinstance(place, list) and place else inner
            if not isinstance(inner, dict | list):
                break
            place = inner
        if isinstance(place, dict) and place:
            place[draw(st.sampled_from(sorted(place)))] = draw(JSON)
        elif isinstance(place, list) and place:
            place[draw(st.integers(0, len(place) - 1))] = draw(JSON)
    data = json.dumps(body).encode("utf-8", "replace")
    return draw(spoilt(st.just(data))) if draw(st.integers(0, 9)) == 0 else data
