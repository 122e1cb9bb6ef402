"""Where documents and data are handed to: one small module per kind of destination, behind one protocol."""

from typing import Annotated

from pydantic import Field

from zestpail.delivery.bucket import BucketDestination, BucketPlan
from zestpail.delivery.destination import (
    Answer,
    Destination,
    Drawn,
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
from zestpail.delivery.filing import FilingDestination, FilingPlan
from zestpail.delivery.folder import FolderDestination, FolderFiles, FolderPlan, folder_files, is_allowed
from zestpail.delivery.hook import HookDestination, HookPlan
from zestpail.delivery.lane import LaneDestination, LanePlan
from zestpail.delivery.mail import MailDestination, MailPlan, SmtpPost
from zestpail.delivery.mapped import MappedDestination
from zestpail.delivery.record import RecordDestination, RecordPlan
from zestpail.delivery.repository import RepositoryDestination, RepositoryPlan
from zestpail.delivery.rows import TableExport
from zestpail.delivery.sftp import SftpDestination, SftpPlan
from zestpail.delivery.sheet import SheetDestination, SheetPlan
from zestpail.delivery.web import NOWHERE, AllowedWeb

AnyDestination = Annotated[
    FolderDestination | MailDestination | LaneDestination | RecordDestination | RepositoryDestination | SheetDestination
    | SftpDestination | BucketDestination | HookDestination,
    Field(discriminator="destination"),
]  # fmt: skip
DESTINATIONS: dict[str, type[Destination]] = {
    one.model_fields["destination"].default: one
    for one in (
        RecordDestination, RepositoryDestination, SheetDestination, FolderDestination, MailDestination, SftpDestination,
        BucketDestination, HookDestination, LaneDestination,
    )
}  # fmt: skip
"""Each kind by its code, in the order in which they are offered."""
AnyPlan = Annotated[
    FolderPlan | MailPlan | LanePlan | RecordPlan | RepositoryPlan | SheetPlan | SftpPlan | BucketPlan | HookPlan,
    Field(discriminator="destination"),
]

__all__ = [
    "DESTINATIONS",
    "NOWHERE",
    "AllowedWeb",
    "Answer",
    "AnyDestination",
    "AnyPlan",
    "BucketDestination",
    "Destination",
    "Drawn",
    "Files",
    "FilingDestination",
    "FilingPlan",
    "FolderDestination",
    "FolderFiles",
    "FolderPlan",
    "HookDestination",
    "LaneDestination",
    "LanePlan",
    "Later",
    "MailDestination",
    "MailPlan",
    "MappedDestination",
    "Outgoing",
    "Outlets",
    "Parcel",
    "Plan",
    "Post",
    "Receipt",
    "RecordDestination",
    "RecordPlan",
    "Refused",
    "RepositoryDestination",
    "SftpDestination",
    "SheetDestination",
    "SmtpPost",
    "TableExport",
    "Taken",
    "Web",
    "folder_files",
    "is_allowed",
]
