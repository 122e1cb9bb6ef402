"""Which other system begins readings of a lane: set up in its draft, with the calls that came."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from zestpail.delivery import Later, Refused, Web
from zestpail.desk.documents.audit import note
from zestpail.desk.documents.context import lane_of_key
from zestpail.desk.documents.messages import NotDone
from zestpail.desk.documents.secrets import keep_secret
from zestpail.desk.intake.calls import CallRow, calls_of
from zestpail.desk.lanes.letter import draft_of
from zestpail.store import Store
from zestpail.store.calls_settings import CallsFrom


@dataclass(frozen=True)
class CallsView:
    """What a lane listens to, and what came."""

    lane: str
    lane_name: str
    settings: CallsFrom | None
    calls: list[CallRow]
    active: bool


def calls_view(store: Store, lane_key: str) -> CallsView:
    """Raises Missing."""
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        return CallsView(lane_key, lane.name, draft_of(lane).calls, calls_of(session, lane), lane.draft is None)


def listen_to(
    store: Store, web: Web, data: Path, lane_key: str, address: str, state: str, key: str, signed_with: str,
    person_id: int,
) -> None:  # fmt: skip
    """The draft of the lane listens to that system; with no address to none. Raises NotDone."""
    place = address.strip().rstrip("/")
    with store.transaction() as session:
        before = draft_of(lane_of_key(session, lane_key)).calls
    names = {"secret": f"{lane_key} calls key", "signed_with": f"{lane_key} calls signature"}
    entered = {"secret": key.strip(), "signed_with": signed_with.strip()}
    kept = {name: names[name] if entered[name] else (getattr(before, name) if before else "") for name in names}
    if place and not kept["signed_with"]:
        raise NotDone("Say what its calls are signed with: others could begin readings else. Nothing was changed.")
    try:
        if place:
            web.permit(place)
    except (Refused, Later) as problem:
        raise NotDone(f"{problem} Nothing was changed.") from problem
    for name, text in entered.items():
        if text:
            keep_secret(store, data, names[name], text, person_id)
    fresh = CallsFrom(address=place[:500], state=state.strip()[:60], **kept) if place else None
    with store.transaction() as session:
        lane = lane_of_key(session, lane_key)
        changed = draft_of(lane).model_copy(update={"calls": fresh})
        lane.draft = changed if changed != lane.settings else None
        note(session, "draft_changed", person_id=person_id, after={"lane": lane_key, "part": "calls"})
