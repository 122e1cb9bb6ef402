"""What a new data folder begins with, and what is said when everything runs."""

from __future__ import annotations

from pathlib import Path

from zestpail.core.document_type import load_type
from zestpail.desk.documents.context import set_up_lane
from zestpail.desk.documents.lane_settings import supplier_invoices, supplier_statements, vessel_calls
from zestpail.desk.people.people import add_person, anybody
from zestpail.settings import Settings
from zestpail.store import Store

DEMO_FILES = Path(__file__).parents[3] / "demo" / "files"
DEMO_PILE = DEMO_FILES / "vessel-calls" / "vessel-calls-01.tif"
DEMO_TYPES = DEMO_FILES.with_name("types")
DEMO_PEOPLE = (("ines", "Ines Okafor", "quillon"), ("tomas", "Tomas Brandt", "quillon"))


def prepare(store: Store, with_demo: bool) -> list[str]:
    """Set up the first lane and, for the demo, its people; returns what a person should know of them, in lines."""
    set_up_lane(store, "supplier-invoices", "Supplier invoices", supplier_invoices())
    if with_demo:
        set_up_lane(store, "supplier-statements", "Supplier statements", supplier_statements())
        kinds = [load_type(str(file)) for file in sorted(DEMO_TYPES.glob("*.json"))]
        set_up_lane(store, "vessel-calls", "Vessel calls", vessel_calls(), kinds)
        for login, name, password in DEMO_PEOPLE:
            add_person(store, login, name, password)
        said = [f"  sign in as {login} ({name}), password {password}" for login, name, password in DEMO_PEOPLE]
        return [*said, f"Scans to drop on its lanes: {DEMO_FILES}"]
    return [] if anybody(store) else ["Nobody can sign in yet: ./zestpail person LOGIN --name NAME"]


def told(address: str, people: list[str], settings: Settings) -> str:
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
    lines.append("Ctrl-C stops it.")
    return "\n".join(lines)
