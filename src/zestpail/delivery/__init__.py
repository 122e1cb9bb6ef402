"""Where documents and data are handed to: one small module per kind of destination, behind one protocol."""

from typing import Annotated

from pydantic import Field

from zestpail.delivery.destination import (
    Answer,
    Destination,
    Files,
    Later,
    Outgoing,
    Outlets,
    Parcel,
    Plan,
    Post,
    Receipt,
    Refused,
    Taken,
    Web,
)
from zestpail.delivery.folder import FolderDestination, FolderFiles, FolderPlan, folder_files, is_allowed
from zestpail.delivery.lane import LaneDestination, LanePlan
from zestpail.delivery.mail import MailDestination, MailPlan, SmtpPost
from zestpail.delivery.record import RecordDestination, RecordPlan
from zestpail.delivery.rows import TableExport
from zestpail.delivery.web import NOWHERE, AllowedWeb

AnyDestination = Annotated[
    FolderDestination | MailDestination | LaneDestination | RecordDestination, Field(discriminator="destination")
]
AnyPlan = Annotated[FolderPlan | MailPlan | LanePlan | RecordPlan, Field(discriminator="destination")]

__all__ = [
    "NOWHERE",
    "AllowedWeb",
    "Answer",
    "AnyDestination",
    "AnyPlan",
    "Destination",
    "Files",
    "FolderDestination",
    "FolderFiles",
    "FolderPlan",
    "LaneDestination",
    "LanePlan",
    "Later",
    "MailDestination",
    "MailPlan",
    "Outgoing",
    "Outlets",
    "Parcel",
    "Plan",
    "Post",
    "Receipt",
    "RecordDestination",
    "RecordPlan",
    "Refused",
    "SmtpPost",
    "TableExport",
    "Taken",
    "Web",
    "folder_files",
    "is_allowed",
]
