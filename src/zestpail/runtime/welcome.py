"""What a new data folder begins with, and what is said when everything runs."""

from __future__ import annotations

from zestpail.desk.lanes.first_lane import set_up_first_lane
from zestpail.desk.people.people import anybody
from zestpail.runtime.supervisor import LEDGER_KEY
from zestpail.settings import Settings
from zestpail.store import Store


def prepare(store: Store) -> list[str]:
    """Set up the first lane; returns what a person should know, in lines."""
    set_up_first_lane(store)
    return [] if anybody(store) else ["Nobody can sign in yet: ./zestpail person LOGIN --name NAME"]


def greeting(address: str, people: list[str], settings: Settings) -> str:
    """Where it is, who can sign in, and what to do first."""
    lines = ["", f"Zest Pail is at {address}", *people]
    lines.append(f"Deliveries go to {settings.delivered}")
    lines.append(f"Files are taken from {settings.incoming}/LANE")
    if settings.smtp_port:
        lines.append(f"E-mail to LANE@anything is received on port {settings.smtp_port}")
    if settings.scanner:
        lines.append(f"The scanner, with paper to lay in, is at {settings.scanner}")
    if settings.standin_mailbox:
        lines.append(f"E-mail that is sent can be read at {settings.standin_mailbox}")
    if settings.standin_ledger:
        lines.append(f"A ledger takes vouchers at {settings.standin_ledger}/api/vouchers, with the key {LEDGER_KEY}")
    lines.append("Ctrl-C stops it.")
    return "\n".join(lines)
