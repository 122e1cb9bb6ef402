"""Collects how real people word the labels of business papers: ``python -m training.wordings FOLDER…``.

Message catalogues (``.po``, ``.mo``) of general business, accounting and shop software hold, for English messages such
as "Due date", what translators of many countries say instead. Each FOLDER is one unpacked package of Debian's or
PyPI's; its name is noted as the source. Only the words are taken, as facts, and only for what ``meanings.json`` names.
"""

from __future__ import annotations

import json
import re
import sys
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from babel import Locale
from babel.messages.mofile import read_mo
from babel.messages.pofile import read_po

from zestpail.core.landmarks.labels import folded

MEANINGS = Path(__file__).with_name("meanings.json")
TARGET = Path(__file__).parents[1] / "src/zestpail/core/landmarks/wordings.json"
LONGEST = 42
"""Characters; what is longer is a sentence and no label."""
SHORTEST = 2
"""Letters and figures of the shortest label."""
LETTERS = re.compile(r"[^\W\d_]")
NOT_LATIN = re.compile(r"[^\u0000-\u024f\u1e00-\u1eff\u2000-\u206f\u20a0-\u20bf№º°ª]")
"""Pages are read in Latin script."""
LANGUAGES = frozenset(
    ("bs", "ca", "cs", "cy", "da", "de", "es", "et", "eu", "fi", "fr", "ga", "gl", "hr", "hu", "id", "is", "it", "lb",
     "lt", "lv", "nb", "nl", "pl", "pt", "ro", "sk", "sl", "sq", "sv", "tr", "vi")
)  # fmt: skip
"""Written in Latin letters, and spoken where invoices are written."""
PLACEHOLDER = re.compile(r"%|\{|\$|<|\\n|\n|\[|\?\?")
PAIR = re.compile(r"^\s*'((?:[^'\\]|\\.)+)'\s*=>\s*'((?:[^'\\]|\\.)+)',", re.MULTILINE)
"""A message and what it is in the catalogue's language, as Perl writes a hash."""
YIELDS = {"payment": "due_date"}
"""What means the one and the other is the other's: terms of payment are no field, and a date tells them apart."""


@dataclass(frozen=True)
class Wording:
    """What one catalogue says for a meaning."""

    meaning: str
    language: str
    text: str
    source: str


Found = dict[str, dict[str, dict[str, list[str]]]]
"""By meaning and language the wordings, each with its sources."""


def collected(folders: list[Path]) -> Found:
    """What the catalogues of all packages say, but for what means two things."""
    meanings: dict[str, list[str]] = json.loads(MEANINGS.read_text("utf-8"))
    wanted = {folded(text): meaning for meaning, texts in reversed(meanings.items()) for text in texts}
    sources: dict[tuple[str, str, str], set[str]] = defaultdict(set)
    for wording in (w for folder in folders for w in _of_package(folder, wanted)):
        sources[wording.meaning, wording.language, wording.text].add(wording.source)
    found = _unambiguous(sources)
    for meaning, texts in meanings.items():  # what one has asked for is said in English too
        known = found.setdefault(meaning, {}).setdefault("en", {})
        bare = {folded(text) for text in known}
        known |= {text: [] for text in texts if folded(text) not in bare and wanted[folded(text)] == meaning}
    return found


def _of_package(folder: Path, wanted: dict[str, str]) -> Iterator[Wording]:
    for path in sorted([*folder.rglob("*.po"), *folder.rglob("*.mo"), *folder.rglob("locale/*/all")]):
        language = _language_of_hash(path) if path.name == "all" else _language(path)
        if language not in LANGUAGES:
            continue
        try:
            messages = list(_pairs(path))
        except (ValueError, OSError, UnicodeDecodeError, KeyError):
            print(f"left out, cannot be read: {path}", file=sys.stderr)
            continue
        for message, text in messages:
            meaning = wanted.get(folded(message)) if "%" not in message else None
            own, said = _tidy(message) if meaning else "", _tidy(text)
            if meaning and own and said:
                yield Wording(meaning, "en", own, folder.name)
                if said != own:
                    yield Wording(meaning, language, said, folder.name)


def _pairs(path: Path) -> Iterator[tuple[str, str]]:
    """The English messages of a catalogue, each with what it is in the catalogue's language."""
    if path.name == "all":
        yield from ((found[1], found[2]) for found in PAIR.finditer(path.read_text("utf-8")))
        return
    with path.open("rb") as file:
        for message in read_po(file) if path.suffix == ".po" else read_mo(file):
            if isinstance(message.id, str) and isinstance(message.string, str) and "fuzzy" not in message.flags:
                yield message.id, message.string


def _language_of_hash(path: Path) -> str:
    """The language that the file LANGUAGE beside it names in English; "" for one that is written twice."""
    name = (path.parent / "LANGUAGE").read_text("latin-1").split("/")[0].strip()
    known = {text: code for code, text in Locale("en").languages.items()}
    return "" if path.parent.name.endswith("_utf") else {"Brazilian Portuguese": "pt"}.get(name, known.get(name, ""))


def _language(path: Path) -> str:
    """The language that the file's name or a folder over it tells; "" for none that is written in Latin letters."""
    names = [path.stem, *(parent.name for parent in path.parents)][:4]
    for name in names:
        found = re.fullmatch(r"([a-z]{2,3})(?:[_@-][A-Za-z]+)*(?:\.UTF-8)?", name)
        if found and name not in ("src", "lib", "usr", "po", "core"):
            return found[1]
    return ""


def _tidy(text: str) -> str:
    said = (
        " ".join(text.replace("&", "").replace("_", "").split()).strip(" :.*#") if not PLACEHOLDER.search(text) else ""
    )
    plain = said[:1].isalnum() and LETTERS.search(said) and not NOT_LATIN.search(said) and len(said) <= LONGEST
    return said if plain and len(folded(said)) >= SHORTEST else ""


def _unambiguous(sources: dict[tuple[str, str, str], set[str]]) -> Found:
    """Without what means two things in one language, unless twice as many sources say the one; each spelling once."""
    claims: dict[tuple[str, str], dict[str, int]] = defaultdict(lambda: defaultdict(int))
    spellings: dict[tuple[str, str, str], list[str]] = defaultdict(list)
    for (meaning, language, text), said_by in sorted(sources.items(), key=lambda item: (-len(item[1]), item[0])):
        claims[language, folded(text)][meaning] += len(said_by)
        spellings[meaning, language, folded(text)].append(text)
    found: Found = {}
    for (meaning, language, bare), texts in sorted(spellings.items()):
        rivals = {
            one: count for one, count in claims[language, bare].items() if YIELDS.get(one) not in claims[language, bare]
        }
        if meaning in rivals and all(2 * n <= rivals[meaning] for one, n in rivals.items() if one != meaning):
            said_by = {source for text in texts for source in sources[meaning, language, text]}
            found.setdefault(meaning, {}).setdefault(language, {})[texts[0]] = sorted(said_by)
    return found


def main() -> None:
    """Write the wordings with their sources."""
    found = collected([Path(name) for name in sys.argv[1:]])
    sources = sorted({one for by in found.values() for texts in by.values() for said in texts.values() for one in said})
    words = {
        meaning: {
            language: {text: [sources.index(one) for one in said_by] for text, said_by in texts.items()}
            for language, texts in by_language.items()
        }
        for meaning, by_language in found.items()
    }
    body = json.dumps({"sources": sources, "words": words}, ensure_ascii=False, sort_keys=True, separators=(",", ":"))
    TARGET.write_text(re.sub(r"(?<=[}\]]),(?=\"\w+\":\{)", ",\n", body) + "\n", "utf-8")
    languages = {language for by_language in found.values() for language in by_language}
    count = sum(len(texts) for by_language in found.values() for texts in by_language.values())
    print(f"{count} wordings of {len(found)} meanings in {len(languages)} languages: {TARGET}")


if __name__ == "__main__":
    main()
