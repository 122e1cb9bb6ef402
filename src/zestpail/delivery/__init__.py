"""Where documents and data are handed to: one small module per kind of destination, behind one protocol."""

from zestpail.delivery.destination import Destination, Refused, Taken
from zestpail.delivery.folder import Folder
from zestpail.delivery.mail import Parcel, Post, SmtpPost

__all__ = ["Destination", "Folder", "Parcel", "Post", "Refused", "SmtpPost", "Taken"]
