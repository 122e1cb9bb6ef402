"""What every destination of a lane is: data that says itself in a sentence, plans once what is sent, and sends it.

Adding one is a module here and a line in ``delivery/__init__.py``. A plan is kept before anything is sent, so that a
second attempt sends the same; each destination of a document has a delivery of its own, with its state and receipt.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import PurePosixPath
from typing import ClassVar, Protocol

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.document_type import DocumentType
from zestpail.core.writing.file_names import Naming


class Refused(Exception):
    """The destination does not take it; ``str()`` is a sentence for a person."""


class Later(Refused):
    """The destination cannot take it now: to be tried again by itself, after a while."""


class Taken(Refused):
    """Another file has that name already: to be planned anew."""


class Files(Protocol):
    """A place that takes files under relative names."""

    def holds(self, path: PurePosixPath) -> bool:
        """Whether something of that name is there."""

    def put(self, path: PurePosixPath, data: bytes) -> None:
        """Write a file that was not there; the same content under the same name again is no error.

        Raises Taken if other content has that name, Refused with the reason if it cannot be written.
        """

    def remove(self, path: PurePosixPath, sha256: str) -> bool:
        """Remove the file if it has that content; returns whether it was there. Raises Refused with the reason."""

    def rewrite(self, path: PurePosixPath, change: Callable[[bytes], bytes]) -> bool:
        """Replace a file by what ``change`` makes of it (of nothing, if it is not there), one writer at a time.

        Returns whether that changed it. Raises Refused with the reason.
        """


@dataclass(frozen=True)
class Parcel:
    """One document for one address."""

    to: str
    subject: str
    text: str
    name: PurePosixPath
    pdf: bytes
    identity: str
    """The same whenever it is sent again, so that the receiver can tell (Message-ID, RFC 5322)."""


class Post(Protocol):
    """What sends e-mail."""

    def send(self, parcel: Parcel) -> None:
        """Raises Refused with a sentence."""


@dataclass(frozen=True)
class Answer:
    """What came back."""

    status: int
    body: bytes


class Web(Protocol):
    """What speaks HTTP for destinations."""

    house: str
    """What names this installation, so that two that send to one place are told apart."""

    def call(self, method: str, address: str, secret: str, body: bytes = b"", head: Mapping[str, str] = {}) -> Answer:
        """Ask an address, with the secret of that name as bearer token (RFC 6750).

        Raises Refused where it may not be asked, Later where it does not answer now.
        """


@dataclass(frozen=True)
class Outlets:
    """The ways out of the house, as the desk provides them."""

    folder: Callable[[str], Files]
    """The folder of that name among those for deliveries."""
    post: Post
    web: Web
    hand_on: Callable[[str, str, bytes, str, str], int]
    """To the lane of that key, under a name, the bytes, by a channel, known by an identity; returns its batch there."""


@dataclass(frozen=True)
class Outgoing:
    """A settled document as destinations see it when they plan."""

    reference: str
    """What names it for good at every destination, such as ``D31``."""
    counter: int
    pdf: str
    """Its searchable PDF, by the hash under which it is kept."""
    doc_type: DocumentType
    own_type: bool
    """Whether that is the lane's own type, and not one that a sheet named."""
    values: Mapping[str, str | None]
    """By field."""
    rows: Mapping[str, Sequence[Mapping[str, str | None]]]
    """By table."""
    given: Mapping[str, str]
    """What sheets, barcodes and e-mails said of it."""
    mail: str
    """The address to which its sheet asks to send it; "" for none."""
    lane: str
    """What the lane is called."""
    naming: Naming
    batch: str = ""
    """What names the batch that it came in."""
    version: int = 1
    """Above 1 where the document was corrected after it had been sent to this destination."""
    replaces: Plan | None = None
    """What was sent there of the version before."""
    replaces_record: str = ""
    """Id over there of the record of the version before."""

    @property
    def named(self) -> dict[str, str | None]:
        """Everything that a name can be made of."""
        found = {key: value for key, value in self.values.items() if value}
        return {"document_type": self.doc_type.name, **self.given, **found}


class Plan(BaseModel):
    """What will be sent, decided once."""

    model_config = ConfigDict(frozen=True)

    reference: str
    pdf: str
    """What is sent, by the hash under which it is kept."""
    version: int = 1

    can_be_recalled: ClassVar[bool] = False
    """Whether what was sent can be taken out over there again."""

    @property
    def promised(self) -> tuple[str, str] | None:
        """The place and the name there that nobody else may be promised; None where names are free."""
        return None

    def recall(self, outlets: Outlets) -> tuple[str, ...]:  # noqa: ARG002 - where nothing can be taken out
        """Take out over there what was written by this plan, wholly or in part; returns what was.

        Doing it again is no error. Raises Refused with the reason.
        """
        return ()


class TableReceipt(BaseModel):
    """How many rows of a table went into which files."""

    model_config = ConfigDict(frozen=True)

    table: str
    rows: int
    files: tuple[str, ...]


class Receipt(BaseModel):
    """What a destination took."""

    model_config = ConfigDict(frozen=True)

    reference: str
    version: int = 1
    bytes: int
    sha256: str
    file: str = ""
    rows: tuple[str, ...] = ()
    """Files that a row was added to."""
    tables: tuple[TableReceipt, ...] = ()
    mail: str = ""
    record: str = ""
    """Its id over there."""
    at: str = ""
    """The address that took it."""
    handed_on: int | None = None
    """The batch that it is in at the other lane."""


class Destination(BaseModel):
    """Where a lane delivers. Each subclass has a ``destination`` code of its own."""

    model_config = ConfigDict(frozen=True)

    title: ClassVar[str]
    """What it is called where it did not take something."""

    id: str = Field(default="", pattern=r"^[a-z0-9-]*$", max_length=40)
    """Names it within its lane for good; its deliveries are kept under it."""

    @property
    def shown(self) -> str:
        """Where it delivers, as a batch says it."""
        return self.title

    def plan(self, document: Outgoing, is_taken: Callable[[str, PurePosixPath], bool], outlets: Outlets) -> Plan | None:
        """What of the document will be sent; None where this one is not for it. Raises Refused with the reason.

        ``is_taken`` says whether a name at a place is promised to another document.
        """
        raise NotImplementedError

    def send(self, plan: Plan, pdf: bytes, outlets: Outlets) -> Receipt:
        """Send what is planned; sending it again leaves it there once. Raises Refused with the reason, or Taken."""
        raise NotImplementedError
