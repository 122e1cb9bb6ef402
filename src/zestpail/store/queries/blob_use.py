"""Which files something still refers to, so that those that nothing does can be deleted."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from sqlalchemy import Text, cast
from sqlmodel import Session, col, select

from zestpail.store.intake_tables import Scan
from zestpail.store.reference_tables import KnownList, ListRevision
from zestpail.store.retention_tables import Export
from zestpail.store.tables import ArrivedFile, Delivery, LaneTrial, Page, Sample, SortingSample

_NAMED: tuple[Any, ...] = (
    ArrivedFile.blob, Page.image, Page.thumbnail, Page.reading, Sample.blob, SortingSample.blob, LaneTrial.blob,
    KnownList.waiting, ListRevision.blob, Export.blob,
)  # fmt: skip
"""Columns that hold the hash of a file."""
_WITHIN: tuple[Any, ...] = (Delivery.plan, SortingSample.pages, LaneTrial.result, Scan.sheets)
"""Columns of JSON in which such hashes stand."""


def used_blobs(session: Session, names: Collection[str]) -> set[str]:
    """Those of the files that something refers to."""
    wanted, used = set(names) - {""}, set[str]()
    if not wanted:
        return used
    for column in _NAMED:
        used.update(session.exec(select(col(column)).where(col(column).in_(wanted)).distinct()))
    any_of = "|".join(sorted(wanted))
    for column in _WITHIN:
        text = cast(col(column), Text)
        for said in session.exec(select(text).where(text.regexp_match(any_of))):
            used.update(name for name in wanted if name in said)
    return used
