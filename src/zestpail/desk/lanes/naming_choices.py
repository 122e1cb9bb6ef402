"""How documents are named and filed, as choices in a form: up to three folders and three parts of the name."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from itertools import chain

from zestpail.core.document_type import DocumentType
from zestpail.core.writing.file_names import (
    AnyPart,
    CounterPart,
    DatePart,
    FieldPart,
    Naming,
    TextPart,
)
from zestpail.desk.documents.messages import NotDone

LEVELS, PARTS = 3, 3
TYPE, COUNTER = "document_type", "counter"
_DATES = {"YYYY-MM": "year and month", "YYYY": "year", "MM": "month", "YYYY-MM-DD": "day"}
BETWEEN = TextPart(text=" ")
Choice = tuple[str, str]


def choices(kinds: Iterable[DocumentType], given: Iterable[str], naming: Naming) -> list[Choice]:
    """Everything that a name can be made of: what is chosen, and what it is called."""
    found: dict[str, str] = {TYPE: "the document type", COUNTER: "a counter"}
    for name in given:
        found.setdefault(name, name.replace("_", " "))
    for field in chain.from_iterable(kind.fields for kind in kinds):
        if field.kind.sheet == "date":
            found |= {f"{field.key} {pattern}": f"{field.name}: {message}" for pattern, message in _DATES.items()}
        else:
            found.setdefault(field.key, field.name)
    for chosen in chain(folders_of(naming), parts_of(naming)):
        if chosen:
            found.setdefault(chosen, chosen.replace("_", " "))
    return list(found.items())


def folders_of(naming: Naming) -> list[str]:
    """The choices of the folders, empty ones up to LEVELS."""
    return _padded([_chosen(level[0]) for level in naming.folders if level], LEVELS)


def parts_of(naming: Naming) -> list[str]:
    """The choices of the file name's parts; what stands between them is a space."""
    return _padded([_chosen(part) for part in naming.file if not isinstance(part, TextPart)], PARTS)


def naming_of(folders: Sequence[str], parts: Sequence[str], known: Iterable[Choice]) -> Naming:
    """The naming of these choices. Raises NotDone for a name of nothing, or of what is not known."""
    names = dict(known)
    wanted = [part for part in parts if part]
    unknown = [choice for choice in (*folders, *wanted) if choice and choice not in names]
    if unknown:
        raise NotDone(f"A name cannot be made of {unknown[0]}. Nothing was changed.")
    if not wanted:
        raise NotDone("Say what a file is named by. Nothing was changed.")
    file: list[AnyPart] = []
    for choice in wanted:
        file += [BETWEEN, _part(choice, names)] if file else [_part(choice, names)]
    return Naming(folders=tuple((_part(choice, names),) for choice in folders if choice), file=tuple(file))


def _part(choice: str, names: dict[str, str]) -> AnyPart:
    key, _, pattern = choice.partition(" ")
    if choice == COUNTER:
        return CounterPart()
    return DatePart(key=key, pattern=pattern) if pattern else FieldPart(key=key, instead=f"no {names[choice].lower()}")


def _chosen(part: AnyPart) -> str:
    match part:
        case FieldPart(key=key):
            return key
        case DatePart(key=key, pattern=pattern):
            return f"{key} {pattern}"
        case CounterPart():
            return COUNTER
        case TextPart():
            return ""


def _padded(chosen: list[str], count: int) -> list[str]:
    return [*chosen, *[""] * (count - len(chosen))]
