"""Fields that a type lacks and its samples have values of: named after their keys, of the kind that the values have."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence

from zestpail.core.document_type import DocumentType, FieldRule
from zestpail.core.kinds import Amount, AnyKind, Date, OneLine, SeveralLines, Style, YesNo
from zestpail.core.learning.labelled import LabelledDocument
from zestpail.core.teaching.field_proposal import kind_of, name_of

_DATE = re.compile(r"\d{4}-\d{2}-\d{2}")
_AMOUNT = re.compile(r"-?\d+\.\d{2}")
_KEY = re.compile(r"[a-z][a-z0-9_]*")


def with_new_fields(doc_type: DocumentType, samples: Sequence[LabelledDocument]) -> DocumentType:
    """The type with a field for each label that it has none for; a label whose key cannot be one is left out."""
    known = {field.key for field in doc_type.fields} | {table.key for table in doc_type.tables}
    keys = dict.fromkeys(key for sample in samples for key in sample.labels if key not in known and _KEY.fullmatch(key))
    new = tuple(
        FieldRule(key=key, name=name_of(key.replace("_", " ")), kind=kind_of_all(_values(samples, key)), finders=())
        for key in keys
    )
    return doc_type.model_copy(update={"fields": (*doc_type.fields, *new)})


def kind_of_all(values: Iterable[str]) -> AnyKind:
    """The narrowest kind that all values, as they are kept, are of."""
    several = list(values)
    if not several:
        return OneLine()
    if any("\n" in value for value in several):
        return SeveralLines()
    for pattern, kind in ((_DATE, Date()), (_AMOUNT, Amount())):
        if all(pattern.fullmatch(value) for value in several):
            return kind
    if all(value in ("yes", "no") for value in several):
        return YesNo()
    kinds = [kind_of(value, Style()) for value in several]
    return kinds[0] if all(type(kind) is type(kinds[0]) for kind in kinds) else OneLine()


def _values(samples: Sequence[LabelledDocument], key: str) -> list[str]:
    return [label.value for sample in samples if (label := sample.labels.get(key)) and label.value]
