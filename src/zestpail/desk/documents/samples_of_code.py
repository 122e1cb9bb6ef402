"""Code to copy, for programs: the same call in several languages, with what differs filled in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

TOKEN = "TOKEN"  # noqa: S105 - what is replaced


@dataclass(frozen=True)
class Code:
    """The same call in one language."""

    language: str
    text: str


def filled_in(codes: Mapping[str, str], names: Mapping[str, str], token: str) -> list[Code]:
    """The code of each language, with these names and the token in their places; the longest names first."""
    told = []
    for language, text in codes.items():
        for name in sorted(names, key=len, reverse=True):
            text = text.replace(name, names[name])  # noqa: PLW2901
        told.append(Code(language, text.replace(TOKEN, token or TOKEN)))
    return told
