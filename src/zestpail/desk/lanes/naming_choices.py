"""How documents are named and filed, as one line of text with the names of values in braces: ``{Supplier} {Number}``.

The line is only how it is shown and typed: what is kept are parts with the codes of values, so that a value may have
any name, and be renamed.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from itertools import chain

from zestpail.core.document_type import DocumentType
from zestpail.core.writing.file_names import AnyPart, CounterPart, DatePart, FieldPart, Naming, TextPart
from zestpail.delivery.rows import said_name
from zestpail.desk.documents.messages import NotDone

DATES = {"YYYY-MM": "year and month", "YYYY": "year", "MM": "month", "YYYY-MM-DD": "day"}
TYPE, COUNTER = "document_type", CounterPart()
LONGEST = 400
"""Characters of the line."""


def choices(kinds: Iterable[DocumentType], given: Iterable[str], naming: Naming) -> dict[str, AnyPart]:
    """Everything that a name can be made of, by what it is called in the line; no two are called the same."""
    named: dict[str, AnyPart] = {}
    known: list[AnyPart] = []

    def offer(called: str, part: AnyPart) -> None:
        if any(_same(part, one) for one in known):
            return
        known.append(part)
        plain = re.sub(r"[{}/]+", " ", called).strip() or "value"
        free = (plain if at == 1 else f"{plain} ({at})" for at in range(1, 1000))
        named[next(name for name in free if name not in named)] = part

    offer("document type", FieldPart(key=TYPE, instead="document"))
    offer("counter", COUNTER)
    for field in chain.from_iterable(kind.fields for kind in kinds):
        if field.kind.sheet == "date":
            for pattern, words in DATES.items():
                offer(f"{field.name}: {words}", DatePart(key=field.key, pattern=pattern))
        else:
            offer(field.name, _field(field.key, field.name))
    for name in given:
        offer(said_name(name), _field(name, name))
    for part in chain(*naming.folders, naming.file):
        if not isinstance(part, TextPart):
            offer(_called(part), part)
    return named


def line_of(naming: Naming, named: Mapping[str, AnyPart]) -> str:
    """The naming as one line: folders, outermost first, and the file's name, with a stroke between them."""

    def shown(part: AnyPart) -> str:
        if isinstance(part, TextPart):
            return part.text
        return "{" + next((name for name, one in named.items() if _same(one, part)), _called(part)) + "}"

    return "/".join("".join(map(shown, level)) for level in (*naming.folders, naming.file))


def naming_of(line: str, named: Mapping[str, AnyPart]) -> Naming:
    """The naming that a line says. Raises NotDone for what is not known, or says nothing."""
    if len(line) > LONGEST:
        raise NotDone(f"A name may be made of {LONGEST} characters at most. Nothing was changed.")
    levels = [tuple(_parts(level, named)) for level in line.strip().strip("/").split("/")]
    if not levels[-1] or any(not level for level in levels):
        raise NotDone("Say what a file is named by, such as {document type} {counter}. Nothing was changed.")
    return Naming(folders=tuple(levels[:-1]), file=levels[-1])


def _parts(level: str, named: Mapping[str, AnyPart]) -> Iterable[AnyPart]:
    for piece in re.split(r"(\{[^{}]*\})", level.strip()):
        if re.fullmatch(r"\{[^{}]*\}", piece):
            name = piece[1:-1].strip().casefold()
            part = next((one for called, one in named.items() if called.casefold() == name), None)
            if part is None:
                raise NotDone(f"A name cannot be made of {piece}: there is no such value. Nothing was changed.")
            yield part
        elif "{" in piece or "}" in piece:
            raise NotDone(f"A brace is missing in “{piece}”: put the name of a value in {{ }}. Nothing was changed.")
        elif piece:
            yield TextPart(text=piece)


def _field(key: str, name: str) -> FieldPart:
    return FieldPart(key=key, instead=f"no {name.lower()}")


def _same(one: AnyPart, other: AnyPart) -> bool:
    """Whether two parts take the same value, whatever they say where there is none."""
    plain = {"instead", "width"}
    return one.model_dump(exclude=plain) == other.model_dump(exclude=plain)


def _called(part: AnyPart) -> str:
    match part:
        case FieldPart(key=key):
            return said_name(key)
        case DatePart(key=key, pattern=pattern):
            return f"{said_name(key)}: {DATES.get(pattern, pattern)}"
        case CounterPart():
            return "counter"
        case TextPart(text=text):
            return text
