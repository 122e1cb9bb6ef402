"""What a lane's review should achieve, and which thresholds follow from what people changed in daily work."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

from sqlmodel import Session

from zestpail.core.evaluation.aim import LEAST_REVIEWED, Reached, Reviewed, reached
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.lanes.letter import draft_of
from zestpail.desk.quality.daily import MOST, as_read
from zestpail.store import Store
from zestpail.store.queries.daily_work import settled_in_lane, told_of_all, values_of_all
from zestpail.store.trail_tables import Event

AIMS = (1.0, 2.0, 5.0, 10.0, 20.0, 50.0)


@dataclass(frozen=True)
class AimsView:
    """The aims that can be set, and on how much they stand."""

    key: str
    name: str
    now: tuple[float, float]
    """The thresholds of the draft: of required values, and of others."""
    aim: float | None
    """What they were set by."""
    aims: list[Reached]
    values: int
    reviewed: int
    least: int = LEAST_REVIEWED


def aims_of(store: Store, key: str, wanted: float | None = None) -> AimsView:
    """What follows from each aim, and from one that a person names. Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        values, settings, name = _values(session, key), draft_of(lane), lane.name
    aims = sorted({*AIMS, *(one for one in (wanted, settings.review_aim) if one is not None)})
    found = [one for aim in aims if (one := reached(values, aim))]
    looked_at = sum(value.right is not None for value in values)
    now = settings.review_below, settings.review_others_below
    return AimsView(key, name, now, settings.review_aim, found, len(values), looked_at)


def set_aim(store: Store, key: str, wrong_in_thousand: float, person_id: int) -> None:
    """The lane's draft reviews values that are less sure than the aim asks for. Raises Missing, NotDone."""
    with store.transaction() as session:
        lane = lane_of_key(session, key)
        found = reached(_values(session, key), wrong_in_thousand)
        if found is None:
            raise NotDone("No document of this lane is settled yet, so nothing can be told.")
        below = {"review_below": found.threshold, "review_others_below": found.threshold}
        changed = draft_of(lane).model_copy(update={**below, "review_aim": wrong_in_thousand})
        lane.draft = changed if changed != lane.settings else None
        note(session, "draft_changed", person_id=person_id,
             after={"lane": key, "part": "review", "aim": wrong_in_thousand, **below})  # fmt: skip


def _values(session: Session, key: str) -> list[Reviewed]:
    """The values of the lane's last settled documents, as they were read: right if a reviewer let them stand."""
    documents = settled_in_lane(session, key, MOST)
    ids = [document.id or 0 for document in documents]
    told: dict[int, list[Event]] = defaultdict(list)
    for event in told_of_all(session, ids):
        told[event.document_id or 0].append(event)
    before = {number: as_read(told[number]) for number in ids}
    by_person = {document.id for document in documents if document.settled_by_id is not None}
    found = []
    for value in values_of_all(session, ids):
        read = before[value.document_id].get(value.key)
        was = read.get("value") if read else value.value
        if not was:
            continue
        sure = float(str(read.get("confidence") or 0)) if read else value.confidence
        right = (was == value.value) if value.document_id in by_person else None
        found.append(Reviewed(value.document_id, sure, right))
    return found
