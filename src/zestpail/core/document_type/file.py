"""A document type as a file: the ready-made ones that are shipped, and those of a person."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from pydantic import ValidationError

from zestpail.core.document_type.model import DocumentType
from zestpail.core.problems import Unreadable


def starters() -> tuple[str, ...]:
    """The keys of the ready-made document types."""
    folder = resources.files("zestpail.core.document_type") / "starters"
    return tuple(sorted(f.name.removesuffix(".json") for f in folder.iterdir() if f.name.endswith(".json")))


def load_type(name_or_file: str) -> DocumentType:
    """A starter by its key, or a document type from a JSON file. Raises Unreadable with the reason."""
    if name_or_file in starters():
        text = (resources.files("zestpail.core.document_type") / "starters" / f"{name_or_file}.json").read_text("utf-8")
        return DocumentType.model_validate_json(text)
    path = Path(name_or_file)
    if not path.is_file():
        known = ", ".join(starters())
        raise Unreadable(f"There is no document type “{name_or_file}”. Starters: {known}; or name a file.")
    try:
        return DocumentType.model_validate_json(path.read_text("utf-8"))
    except (ValidationError, UnicodeDecodeError) as error:
        first = error.errors()[0]["msg"] if isinstance(error, ValidationError) else "it is not text"
        raise Unreadable(f"{path.name} is not a document type: {first}.") from error
