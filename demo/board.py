"""The Quillon Harbour Board: its lanes, its people, and where its files are."""

from __future__ import annotations

from pathlib import Path

from zestpail.core.document_type import load_type
from zestpail.core.separation import AtPrintedSheet, AtRecognised, Separation
from zestpail.core.writing.file_names import DatePart, FieldPart, Naming, TextPart
from zestpail.delivery import FolderDestination
from zestpail.desk.documents.context import set_up_lane
from zestpail.desk.documents.signed_in import EVERY_ROLE
from zestpail.desk.lanes.first_lane import KEY, NAME, supplier_invoices
from zestpail.desk.people.people import add_person
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings, TypeUsed
from zestpail.store.states import Role

FILES = Path(__file__).parent / "files"
PILE = FILES / "vessel-calls" / "vessel-calls-01.tif"
"""What lies in the demo's scanner."""
TYPES = Path(__file__).parent / "types"
PEOPLE = (
    ("ines", "Ines Okafor", "quillon", EVERY_ROLE),
    ("tomas", "Tomas Brandt", "quillon", (Role.OPERATOR,)),
)


def set_up(store: Store) -> list[str]:
    """Set up the board's lanes and people; returns what a person should know of them, in lines."""
    set_up_lane(store, KEY, NAME, supplier_invoices())
    set_up_lane(store, "supplier-statements", "Supplier statements", supplier_statements())
    kinds = [load_type(str(file)) for file in sorted(TYPES.glob("*.json"))]
    set_up_lane(store, "vessel-calls", "Vessel calls", vessel_calls(), kinds)
    set_up_lane(
        store, "harbour-binders", "Harbour master's binders", harbour_binders(), (load_type("supplier-invoice"),)
    )
    for login, name, password, roles in PEOPLE:
        add_person(store, login, name, password, roles)
    sign_ins = [
        f"  sign in as {login} ({name}, {', '.join(roles)}), password {password}"
        for login, name, password, roles in PEOPLE
    ]
    return [
        "This is a demo: its passwords are known to everybody, so keep nothing of your own in it.",
        *sign_ins,
        f"Scans to drop on its lanes: {FILES}",
    ]


def supplier_statements() -> LaneSettings:
    """Long tables with a balance."""
    return LaneSettings(
        type="supplier-statement",
        naming=Naming(
            folders=((DatePart(key="statement_date", pattern="YYYY-MM"),),),
            file=(FieldPart(key="seller_name", instead="unknown supplier"), TextPart(text=" "),
                  FieldPart(key="statement_date", instead="without date")),
        ),
        destinations=(_folder("supplier-statements"),),
    )  # fmt: skip


def vessel_calls() -> LaneSettings:
    """Bundles in one stack, split by printed sheets, filed by what the cover sheet says."""
    kinds = ("stores-list", "waste-receipt", "pilot-ticket", "port-clearance", "cargo-manifest", "health-declaration")
    return LaneSettings(
        type="crew-list",
        other_types=tuple(TypeUsed(key=key) for key in kinds),
        separation=Separation(bundles=AtPrintedSheet(), documents=AtPrintedSheet(), blank_pages="left_out"),
        naming=Naming(
            folders=((FieldPart(key="vessel", instead="unknown vessel"),), (FieldPart(key="year", instead="no year"),),
                     (FieldPart(key="month", instead="no month"),)),
            file=(FieldPart(key="document_type"),),
        ),
        destinations=(_folder("vessel-calls"),),
    )  # fmt: skip


def harbour_binders() -> LaneSettings:
    """Mixed piles without sheets: its types are to be told apart by samples, which are still to be shown."""
    return LaneSettings(
        type="incident-report",
        separation=Separation(documents=AtRecognised(), blank_pages="left_out"),
        naming=Naming(
            folders=((FieldPart(key="vessel", instead="unknown vessel"),),),
            file=(FieldPart(key="document_type"), TextPart(text=" "),
                  FieldPart(key="number", instead="without number")),
        ),
        destinations=(_folder("harbour-binders"), _named_folder("invoices-from-binders")),
    )  # fmt: skip


def _named_folder(name: str) -> FolderDestination:
    return FolderDestination(id=name, folder=name, csv=f"{name}.csv", xlsx=f"{name}.xlsx")


def _folder(name: str) -> FolderDestination:
    return FolderDestination(folder=name, csv=f"{name}.csv", xlsx=f"{name}.xlsx")
