"""Files that cannot be read, each in its own way."""

from __future__ import annotations

import io
import struct
import zlib
from pathlib import Path

import pikepdf
from PIL import Image

from tests.conftest import DEMO

SENTENCES = {
    "empty.pdf": "The file is empty.",
    "truncated.tif": "The picture is damaged or was cut short; scan or send it again.",
    "truncated.jpg": "The picture is damaged or was cut short; scan or send it again.",
    "half.pdf": "The PDF is damaged or was cut short; ask for it again.",
    "locked.pdf": "The PDF is protected by a password; ask the sender for one without.",
    "text.pdf": "This is neither a PDF nor a picture that can be read (TIFF, JPEG, PNG, WebP, HEIC).",
    "huge.png": "The picture has 30000 × 30000 pixels; at most 20000 on a side and 150 million in all are read.",
}


def write_bad_files(folder: Path) -> list[Path]:
    """One file for each sentence."""
    contents = {
        "empty.pdf": b"",
        "truncated.tif": (DEMO / "bight-01.tif").read_bytes()[:4000],
        "truncated.jpg": (DEMO / "bight-03.jpg").read_bytes()[:20_000],
        "half.pdf": b"%PDF-1.7\n1 0 obj << /Type /Catalog",
        "locked.pdf": _locked(),
        "text.pdf": b"Dear Sirs, this is a letter and no PDF.\n" * 20,
        "huge.png": _huge(),
    }
    for name, data in contents.items():
        (folder / name).write_bytes(data)
    return [folder / name for name in contents]


def _locked() -> bytes:
    out = io.BytesIO()
    with pikepdf.open(DEMO / "brevanne-01.pdf") as pdf:
        pdf.save(out, encryption=pikepdf.Encryption(owner="owner", user="user"))
    return out.getvalue()


def _huge() -> bytes:
    """The header of a picture of 30 000 by 30 000 pixels: what a decompression bomb looks like from outside."""
    out = io.BytesIO()
    Image.new("L", (1, 1)).save(out, "PNG")
    data = bytearray(out.getvalue())
    data[16:24] = struct.pack(">II", 30_000, 30_000)
    data[29:33] = struct.pack(">I", zlib.crc32(bytes(data[12:29])))
    return bytes(data)
