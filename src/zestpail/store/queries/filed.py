"""The folders in which delivered documents of a lane were filed."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlmodel import Session, col, distinct, func, select

from zestpail.store.states import DeliveryState
from zestpail.store.tables import Batch, Delivery, Document


def folders_in(session: Session, lane_id: int, parts: Sequence[str]) -> list[tuple[str, int]]:
    """The folders right below that one, by name, each with how many documents are in it and below."""
    level = len(parts) + 1
    name = func.split_part(Delivery.path, "/", level)
    wanted = select(name, func.count(distinct(col(Delivery.document_id)))).where(
        *_below(lane_id, parts), func.split_part(Delivery.path, "/", level + 1) != ""
    )
    return [(str(one), many) for one, many in session.exec(wanted.group_by(name).order_by(name))]


def files_in(session: Session, lane_id: int, parts: Sequence[str], most: int) -> list[tuple[int, str]]:
    """The documents right in that folder, by name, each once."""
    level = len(parts) + 1
    name = func.split_part(Delivery.path, "/", level)
    wanted = select(Delivery.document_id, func.min(name)).where(
        *_below(lane_id, parts), func.split_part(Delivery.path, "/", level + 1) == "", Delivery.path != ""
    )
    wanted = wanted.group_by(col(Delivery.document_id)).order_by(func.min(name)).limit(most)
    return [(number, str(one)) for number, one in session.exec(wanted)]


def _below(lane_id: int, parts: Sequence[str]) -> list[Any]:
    of_lane = select(Document.id).join(Batch, col(Batch.id) == col(Document.batch_id)).where(Batch.lane_id == lane_id)
    found = [col(Delivery.document_id).in_(of_lane), Delivery.state == DeliveryState.SENT]
    if parts:
        found.append(col(Delivery.path).startswith("/".join((*parts, "")), autoescape=True))
    return found
