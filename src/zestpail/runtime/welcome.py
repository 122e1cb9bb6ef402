"""What a new data folder begins with, and what is said when everything runs."""

from __future__ import annotations

from zestpail.desk.lanes.first_lane import set_up_first_lane
from zestpail.desk.people.first_start import key_of
from zestpail.desk.people.people import anybody
from zestpail.settings import Settings
from zestpail.store import Store

NOBODY = "Nobody can sign in yet."


def prepare(store: Store) -> list[str]:
    """Set up the first lane; returns what a person should know, in lines."""
    set_up_first_lane(store)
    return [] if anybody(store) else [NOBODY]


def greeting(address: str, people: list[str], settings: Settings) -> str:
    """Where it is, who can sign in, and what to do first."""
    begin = f"{NOBODY} Begin at {address}/first-start?key="
    told = [f"{begin}{key_of(settings.data)}" if line == NOBODY else line for line in people]
    lines = ["", f"Zest Pail is at {address}", *told]
    lines.append(f"Deliveries go to {settings.delivered}")
    lines.append(f"Files are taken from {settings.incoming}/LANE")
    if settings.smtp_port:
        lines.append(f"E-mail to LANE@anything is received on port {settings.smtp_port}")
    lines += settings.standins
    if settings.scanner and not settings.standins:
        lines.append(f"The scanner is at {settings.scanner}")
    lines.append("Ctrl-C stops it.")
    return "\n".join(lines)
