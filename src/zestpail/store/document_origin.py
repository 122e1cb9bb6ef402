"""Where a document came from: how it was split out of a stack, and what sheets and e-mails said of it."""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import BaseModel, ConfigDict


class DocumentOrigin(BaseModel):
    """By itself it says that the document is a whole file of which nothing was said."""

    model_config = ConfigDict(frozen=True)

    why: str = ""
    """Why it begins where it does."""
    given: dict[str, str] = {}
    """Values that sheets, barcodes or an e-mail gave it."""
    bundle: int | None = None
    """Number of its bundle in the stack, from 0."""
    mail: str = ""
    """The address to which its sheet asks to send it."""
    doubt: str = ""
    """What a person should know of how it was split."""


IDENTITY = "identity"
"""Under this a file keeps what it is known by; it is nobody's value."""


def given_by(given: Mapping[str, str]) -> dict[str, str]:
    """What is known of all documents of a file, from what the file was given when it came."""
    return {name: value for name, value in given.items() if name != IDENTITY}
