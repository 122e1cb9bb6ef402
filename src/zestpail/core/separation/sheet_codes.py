"""What the codes on our own cover and separator sheets say.

A code is a short text of pieces with ``/`` between them, each percent-encoded (RFC 3986), so that any name or value
fits and old scanners that know capital letters only can still carry it: ``PAIL/DOC/crew-list``.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal
from urllib.parse import quote, unquote

from pydantic import BaseModel, ConfigDict

from zestpail.core.reading.page import Barcode

Act = Literal["bundle", "document", "value", "mail"]
_WRITTEN: dict[Act, str] = {"bundle": "BUNDLE", "document": "DOC", "value": "SET", "mail": "MAIL"}
_READ = {written: act for act, written in _WRITTEN.items()}
_PIECES = {"bundle": (0, 0), "document": (0, 1), "value": (2, 2), "mail": (1, 1)}
SIGN = "PAIL"


class SheetCode(BaseModel):
    """One order to the reader of a pile.

    ``bundle``: a bundle begins. ``document``: a document begins, of the type ``name`` if that is given. ``value``:
    ``name`` is ``value`` for what follows. ``mail``: what follows goes to the address ``value``.
    """

    model_config = ConfigDict(frozen=True)

    act: Act
    name: str = ""
    value: str = ""

    @property
    def sentence(self) -> str:
        """It as a person reads it."""
        match self.act:
            case "bundle":
                return "a bundle begins"
            case "document":
                return f"a document begins: {self.name}" if self.name else "a document begins"
            case "value":
                return f"{self.name} is {self.value}"
            case "mail":
                return f"send what follows to {self.value}"


def code_text(code: SheetCode) -> str:
    """The text to be put into a barcode."""
    pieces = {"bundle": (), "document": (code.name,) if code.name else (), "value": (code.name, code.value)}
    message = pieces.get(code.act, (code.value,))
    return "/".join((SIGN, _WRITTEN[code.act], *(quote(piece, safe=" ") for piece in message)))


def codes_on(barcodes: Iterable[Barcode]) -> tuple[SheetCode, ...]:
    """What the barcodes of a page say that are codes of ours; all others are left alone."""
    return tuple(code for barcode in barcodes if (code := _understood(barcode.text)))


def _understood(text: str) -> SheetCode | None:
    sign, _, rest = text.strip().partition("/")
    written, *pieces = rest.split("/")
    act = _READ.get(written)
    if sign != SIGN or act is None:
        return None
    least, most = _PIECES[act]
    message = [unquote(piece).strip() for piece in pieces]
    if not least <= len(message) <= most or any(len(piece) > 200 or not piece.isprintable() for piece in message):
        return None
    match act:
        case "value":
            return SheetCode(act=act, name=message[0], value=message[1]) if message[0] else None
        case "mail":
            return SheetCode(act=act, value=message[0])
        case _:
            return SheetCode(act=act, name=message[0] if message else "")
