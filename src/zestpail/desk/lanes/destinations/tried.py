"""What a trial run of a lane would leave at each of its destinations."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any

from zestpail.core.document_type import DocumentType
from zestpail.delivery import Outgoing
from zestpail.store.lane_settings import LaneSettings

TO_COME = "…"
"""Stands for what only a delivered document has, such as its number."""


def outgoing_of_trial(
    lane_name: str, settings: LaneSettings, doc_type: DocumentType, values: Mapping[str, str | None],
    given: Mapping[str, str], rows: Mapping[str, Sequence[Mapping[str, str | None]]], counter: int,
) -> Outgoing:  # fmt: skip
    """A document of a trial as destinations see it."""
    return Outgoing(
        reference=TO_COME, counter=counter, pdf="", doc_type=doc_type, own_type=doc_type.key == settings.type,
        values=values, rows=rows, given=given, mail="", lane=lane_name, naming=settings.naming, batch=TO_COME,
    )  # fmt: skip


def shown_by_destination(settings: LaneSettings, document: Outgoing) -> list[dict[str, Any]]:
    """For each destination besides those of the letter: its files, columns, rows, and what does not fit."""
    told = (settings.folder, settings.mail, settings.next_lane)
    return [asdict(one.shown_of(document)) for one in settings.destinations if one not in told]
