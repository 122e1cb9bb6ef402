"""The lane that a new data folder begins with."""

from __future__ import annotations

from zestpail.core.writing.file_names import DatePart, FieldPart, Naming, TextPart
from zestpail.delivery import FolderDestination
from zestpail.desk.documents.context import set_up_lane
from zestpail.store import Store
from zestpail.store.lane_settings import LaneSettings

KEY, NAME = "supplier-invoices", "Supplier invoices"


def set_up_first_lane(store: Store) -> None:
    """Make it, if it is not there."""
    set_up_lane(store, KEY, NAME, supplier_invoices())


def supplier_invoices() -> LaneSettings:
    """Invoices by month, named by supplier and number."""
    return LaneSettings(
        type="supplier-invoice",
        naming=Naming(
            folders=((DatePart(key="issue_date", pattern="YYYY-MM"),),),
            file=(FieldPart(key="seller_name", instead="unknown supplier"), TextPart(text=" "),
                  FieldPart(key="invoice_number", instead="without number")),
        ),
        destinations=(FolderDestination(folder=KEY, csv=f"{KEY}.csv", xlsx=f"{KEY}.xlsx"),),
    )  # fmt: skip
