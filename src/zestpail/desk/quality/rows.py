"""Rows of tables as they were read, held against what reviewers made of them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from typing import Any

from sqlmodel import Session

from zestpail.core.evaluation.measure import Tally
from zestpail.core.evaluation.rows import cell_tally
from zestpail.store.queries.daily_work import changes_of_all, rows_of_all
from zestpail.store.tables import TableRow

Cells = dict[str, str | None]


def cells_kept(session: Session, ids: Collection[int]) -> dict[str, Tally]:
    """By table, how many cells of these documents were read as they are now, by rows that are aligned."""
    rows: dict[int, list[TableRow]] = defaultdict(list)
    for row in rows_of_all(session, ids):
        rows[row.document_id].append(row)
    changes = changes_of_all(session, ids)
    totals: dict[str, Tally] = defaultdict(Tally)
    for number in ids:
        now = {str(row.id): {"table": row.table, "position": row.position, "cells": row.cells} for row in rows[number]}
        read = _as_read(now, [change.get("rows", {}) for change in changes.get(number, ())])
        for table in {row["table"] for row in (*now.values(), *read.values())}:
            tally, total = cell_tally(_plain(read, table), _plain(now, table)), totals[table]
            total.right, total.found, total.there = (
                total.right + tally.right, total.found + tally.found, total.there + tally.there
            )  # fmt: skip
    return dict(totals)


def _as_read(
    now: Mapping[str, Mapping[str, Any]], changes: Sequence[Mapping[str, Mapping[str, Any] | None]]
) -> dict[str, Mapping[str, Any]]:
    """The rows before all changes, of which the last comes first."""
    rows = dict(now)
    for change in changes:
        for number, before in change.items():
            if before is None:
                rows.pop(number, None)
            else:
                rows[number] = before
    return rows


def _plain(rows: Mapping[str, Mapping[str, Any]], table: str) -> list[Cells]:
    mine = sorted((row for row in rows.values() if row["table"] == table), key=lambda row: int(row["position"]))
    return [{key: cell["value"] for key, cell in row["cells"].items()} for row in mine]
