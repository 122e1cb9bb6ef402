"""File and folder names composed from parts, safe on every system and never outside the destination."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Mapping
from datetime import date
from pathlib import PurePosixPath
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

MOST_BYTES = 120
"""The longest name of one file or folder, extension aside; leaves room within the usual 255."""
NOTHING = "unnamed"

_UNSAFE = re.compile(r'[\x00-\x1f\x7f<>:"/\\|?*]+')
_RESERVED = re.compile(r"(con|prn|aux|nul|com\d|lpt\d)(\..*)?", re.IGNORECASE)


class Part(BaseModel):
    model_config = ConfigDict(frozen=True)


class TextPart(Part):
    """A fixed text."""

    part: Literal["text"] = "text"
    text: str


class FieldPart(Part):
    """The value of a field; ``instead`` stands in where there is none."""

    part: Literal["field"] = "field"
    key: str
    instead: str = "none"


class DatePart(Part):
    """A date field written by a pattern of YYYY, YY, MM and DD."""

    part: Literal["date"] = "date"
    key: str
    pattern: str = "YYYY-MM-DD"
    instead: str = "undated"


class CounterPart(Part):
    """A number that goes up with each document delivered by the lane."""

    part: Literal["counter"] = "counter"
    width: int = Field(default=4, ge=1, le=12)


AnyPart = Annotated[TextPart | FieldPart | DatePart | CounterPart, Field(discriminator="part")]


class Naming(BaseModel):
    """The folders, outermost first, and the file name, without extension; each a row of parts."""

    model_config = ConfigDict(frozen=True)

    folders: tuple[tuple[AnyPart, ...], ...] = ()
    file: tuple[AnyPart, ...]


def compose(naming: Naming, values: Mapping[str, str | None], counter: int, extension: str) -> PurePosixPath:
    """The relative path for a document with these values. Every piece of it is a plain name."""
    levels = [safe_name("".join(_text(part, values, counter) for part in level)) for level in naming.folders]
    name = safe_name("".join(_text(part, values, counter) for part in naming.file))
    return PurePosixPath(*levels, f"{name}.{extension}")


def safe_name(text: str) -> str:
    """The text as one plain file name: no separators, no control characters, no reserved word, not too long."""
    name = unicodedata.normalize("NFC", text)
    name = _UNSAFE.sub("-", name)
    name = "".join(c for c in name if c.isprintable() and not 0xD800 <= ord(c) <= 0xDFFF)
    name = re.sub(r"\s+", " ", name).strip(" .-")[:MOST_BYTES]
    while len(name.encode()) > MOST_BYTES:
        name = name[:-1].rstrip(" .-")
    if not name:
        return NOTHING
    return f"{name}-" if _RESERVED.fullmatch(name) else name


def of_version(path: PurePosixPath, version: int) -> PurePosixPath:
    """The path with the document's version in its name, from the second on."""
    return path if version == 1 else path.with_name(f"{path.stem} version {version}{path.suffix}")


def never_taken(path: PurePosixPath, taken: Callable[[PurePosixPath], bool]) -> PurePosixPath:
    """The path itself, or with “ (2)”, “ (3)” … the first that is not taken."""
    number, free = 1, path
    while taken(free):
        number += 1
        free = path.with_name(f"{path.stem} ({number}){path.suffix}")
    return free


def _text(part: AnyPart, values: Mapping[str, str | None], counter: int) -> str:
    match part:
        case TextPart(text=text):
            return text
        case FieldPart(key=key, instead=instead):
            return values.get(key) or instead
        case DatePart():
            return _dated(part, values.get(part.key))
        case CounterPart(width=width):
            return f"{counter:0{width}d}"


def _dated(part: DatePart, value: str | None) -> str:
    try:
        day = date.fromisoformat(value or "")
    except ValueError:
        return part.instead
    written = {"YYYY": f"{day:%Y}", "YY": f"{day:%y}", "MM": f"{day:%m}", "DD": f"{day:%d}"}
    return re.sub("YYYY|YY|MM|DD", lambda found: written[found[0]], part.pattern)
