"""Collects first names of many countries: ``python -m training.first_names``.

They tell a person from a firm at the head of an address. Taken as facts from the word lists of the package Faker.
"""

from __future__ import annotations

import importlib
import pkgutil
import textwrap
import unicodedata
from collections.abc import Iterable, Iterator
from pathlib import Path
from types import ModuleType

import faker.providers.person

TARGET = Path(__file__).parents[1] / "src/zestpail/core/finders/parties/first_names.txt"
SHORTEST = 3
"""Letters; shorter ones are initials and particles."""


def collected() -> list[str]:
    """First names in small letters without accents, each once, in order."""
    modules = (
        importlib.import_module(f"faker.providers.person.{found.name}")
        for found in pkgutil.iter_modules(faker.providers.person.__path__)
    )
    bare = {_bare(name) for module in modules for name in _of(module)}
    return sorted(name for name in bare if name.isascii() and name.isalpha() and len(name) >= SHORTEST)


def _of(module: ModuleType) -> Iterator[str]:
    for listed in (attribute for attribute in dir(module.Provider) if attribute.startswith("first_names")):
        held = getattr(module.Provider, listed)
        if isinstance(held, Iterable):
            yield from (name for name in held if isinstance(name, str) and " " not in name)


def _bare(name: str) -> str:
    return "".join(c for c in unicodedata.normalize("NFKD", name.casefold()) if c.isalpha())


def main() -> None:
    """Write the names, with blanks between."""
    names = collected()
    TARGET.write_text(textwrap.fill(" ".join(names), 118) + "\n", "utf-8")
    print(f"{len(names)} first names: {TARGET}")


if __name__ == "__main__":
    main()
