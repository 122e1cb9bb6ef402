"""A classifier as a file: versioned JSON, whose every part is checked when it is read."""

from __future__ import annotations

from pathlib import Path

from pydantic import ValidationError

from zestpail.core.classification.model import Classifier
from zestpail.core.problems import Unreadable

LARGEST = 200_000_000
"""Bytes of a classifier's file."""


def load_classifier(path: Path) -> Classifier:
    """The classifier in a file. Raises Unreadable with the part that is wrong and what is wrong with it."""
    try:
        if path.stat().st_size > LARGEST:
            raise Unreadable(f"{path.name} is too large for a classifier.")
        return read_classifier(path.read_bytes(), path.name)
    except OSError as error:
        raise Unreadable(f"{path.name} cannot be opened: {(error.strerror or 'unknown reason').lower()}.") from error


def read_classifier(data: bytes, name: str) -> Classifier:
    """The classifier in the bytes of a file. Raises Unreadable."""
    try:
        classifier = Classifier.model_validate_json(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = " → ".join(str(part + 1) if isinstance(part, int) else part for part in first["loc"])
        where = f" at {place}" if place else ""
        raise Unreadable(f"{name} is not a classifier{where}: {first['msg'].removeprefix('Value error, ')}.") from error
    twice = {one.key for one in classifier.types if sum(other.key == one.key for other in classifier.types) > 1}
    if twice:
        raise Unreadable(f"{name} is not a classifier: two types have the key {sorted(twice)[0]}.")
    return classifier


def written(classifier: Classifier) -> str:
    """The text of a classifier's file."""
    return classifier.model_dump_json(exclude_defaults=False)
