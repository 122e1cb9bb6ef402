"""Where documents and data are handed to: one small module per kind of destination, behind one protocol."""

from typing import Annotated

from pydantic import Field

from zestpail.delivery.destination import (
    Destination,
    Files,
    Outgoing,
    Outlets,
    Parcel,
    Plan,
    Post,
    Receipt,
    Refused,
    Taken,
)
from zestpail.delivery.folder import FolderDestination, FolderFiles, FolderPlan, folder_files, is_allowed
from zestpail.delivery.lane import LaneDestination, LanePlan
from zestpail.delivery.mail import MailDestination, MailPlan, SmtpPost
from zestpail.delivery.rows import TableExport

AnyDestination = Annotated[FolderDestination | MailDestination | LaneDestination, Field(discriminator="destination")]
AnyPlan = Annotated[FolderPlan | MailPlan | LanePlan, Field(discriminator="destination")]

__all__ = [
    "AnyDestination",
    "AnyPlan",
    "Destination",
    "Files",
    "FolderDestination",
    "FolderFiles",
    "FolderPlan",
    "LaneDestination",
    "LanePlan",
    "MailDestination",
    "MailPlan",
    "Outgoing",
    "Outlets",
    "Parcel",
    "Plan",
    "Post",
    "Receipt",
    "Refused",
    "SmtpPost",
    "TableExport",
    "Taken",
    "folder_files",
    "is_allowed",
]
