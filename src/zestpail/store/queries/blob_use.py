"""Which files something still refers to, so that those that nothing does can be deleted."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from typing import Any

from sqlalchemy import Text, cast, text
from sqlalchemy.dialects.postgresql import ARRAY, insert
from sqlmodel import Session, col, func, select

from zestpail.store.intake_tables import Scan
from zestpail.store.reference_tables import KnownList, ListRevision
from zestpail.store.retention_tables import Export, GoneFile
from zestpail.store.tables import PLANNED_FILES, ArrivedFile, LaneTrial, Page, Sample, SortingSample

_NAMED: tuple[Any, ...] = (
    ArrivedFile.blob, Page.image, Page.thumbnail, Page.reading, Sample.blob, SortingSample.blob, LaneTrial.blob,
    KnownList.waiting, ListRevision.blob, Export.blob,
)  # fmt: skip
"""Columns that hold the hash of a file."""
_WITHIN: tuple[Any, ...] = (SortingSample.pages, LaneTrial.result, Scan.sheets)
"""Columns of JSON in which such hashes stand; those of plans of deliveries have an index of their own."""
_PLANNED = text(
    f"SELECT DISTINCT file FROM delivery, jsonb_array_elements_text({PLANNED_FILES}) AS file "
    f"WHERE {PLANNED_FILES} ?| :names AND file = ANY(:names)"
)


def let_go(session: Session, names: Iterable[str], erased: bool = False) -> None:
    """Write down that these files are not needed any more by what needed them."""
    rows = [{"name": name, "erased": erased} for name in sorted(set(names) - {""})]
    if rows:
        new = insert(GoneFile).values(rows)
        either = col(GoneFile.erased) | new.excluded.erased
        session.execute(new.on_conflict_do_update(index_elements=["name"], set_={"erased": either}))


def used_blobs(session: Session, names: Collection[str]) -> set[str]:
    """Those of the files that something refers to."""
    wanted, used = set(names) - {""}, set[str]()
    if not wanted:
        return used
    for column in _NAMED:
        used.update(session.exec(select(col(column)).where(col(column).in_(wanted)).distinct()))
    used.update(session.execute(_PLANNED, {"names": sorted(wanted)}).scalars())
    return used | {name for column in _WITHIN for _, name in naming(session, column, wanted)}


def naming(session: Session, column: Any, wanted: Collection[str], *of: Any) -> list[tuple[int, str]]:
    """The rows (by id) that name one of the files in that column of JSON, and which; ``of`` says among which rows."""
    found = func.regexp_matches(cast(col(column), Text), r"\m[0-9a-f]{64}\M", "g", type_=ARRAY(Text))
    rows = session.execute(select(column.class_.id, found).where(*of))
    return [(row, names[0]) for row, names in rows if names[0] in wanted]
