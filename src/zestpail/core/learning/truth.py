"""What is right about a file, in a file beside it: NAME.truth.json, with the values of its fields and tables."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from zestpail.core.kinds import AnyKind
from zestpail.core.kinds.registered import Registered
from zestpail.core.problems import Unreadable
from zestpail.core.reading.geometry import Box

TRUTH = ".truth.json"


@dataclass(frozen=True)
class Truth:
    """The values of a file: of fields by key, None where rightly none is, and of tables the rows."""

    fields: Mapping[str, str | None]
    places: Mapping[str, tuple[int, Box]]
    """By field the page, from 0, and the box in points, where somebody said so."""
    tables: Mapping[str, Sequence[Mapping[str, str | None]]]


def files_with_truth(folder: Path) -> list[Path]:
    """The files of a folder that have their truth beside them. Raises Unreadable if there is none."""
    truths = sorted(folder.glob(f"*{TRUTH}"))
    files = [path.with_name(path.name.removesuffix(TRUTH)) for path in truths]
    if not files:
        raise Unreadable(f"In {folder} there is no file with its truth beside it (NAME{TRUTH}).")
    return files


def truth_of(path: Path) -> Truth:
    """What is right about a file. Raises Unreadable."""
    beside = path.with_name(f"{path.name}{TRUTH}")
    try:
        details = json.loads(beside.read_text("utf-8"))
        fields = {str(key): None if value is None else str(value) for key, value in details["fields"].items()}
        tables = {str(key): [dict(row) for row in rows] for key, rows in details.get("tables", {}).items()}
        places = {
            str(key): (int(page), Box(*map(float, box))) for key, (page, box) in details.get("places", {}).items()
        }
    except (ValueError, KeyError, AttributeError, TypeError, OSError) as error:
        raise Unreadable(f"{beside.name} holds no truth: a JSON object with “fields” is wanted.") from error
    return Truth(fields, places, tables)


def as_kept(kind: AnyKind, value: str | None) -> str | None:
    """A true value as its kind keeps it: registered numbers have no blanks, points and dashes."""
    return re.sub(r"[\s./·-]", "", value) if value and isinstance(kind, Registered) else value
