"""The records that a trial run would send, as it shows them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from zestpail.delivery import RecordDestination
from zestpail.delivery.mapping import mapped
from zestpail.delivery.record import about_names
from zestpail.store.lane_settings import LaneSettings

TO_COME = "…"
"""Stands for what only a delivered document has, such as its number."""


def records_tried(settings: LaneSettings, values: Mapping[str, str | None]) -> list[dict[str, Any]]:
    """For each address that records go to: what it is called, the columns with their values, and what does not fit."""
    known = dict.fromkeys(about_names(), TO_COME) | {key: value for key, value in values.items() if value}
    return [_record(one, known) for one in settings.destinations if isinstance(one, RecordDestination)]


def _record(there: RecordDestination, values: Mapping[str, str | None]) -> dict[str, Any]:
    made = mapped(there.ties.model_copy(update={"tables": ()}), there.columns, values, {})
    columns = [
        [column.name, str(made.record[column.key])] for column in there.columns.plain if column.key in made.record
    ]
    return {"to": there.called, "columns": columns, "problems": list(made.problems)}
