"""What every destination of a lane is: data that says itself in a sentence, plans once what is sent, and sends it.

Adding one is a module here and a line in ``delivery/__init__.py``. A plan is kept before anything is sent, so that a
second attempt sends the same; each destination of a document has a delivery of its own, with its state and receipt.
"""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import PurePosixPath
from typing import ClassVar, Protocol, Self

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.document_type import DocumentType
from zestpail.core.writing.file_names import Naming
from zestpail.core.writing.renditions import Rendition


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

    def put(self, path: PurePosixPath, data: bytes, properties: Mapping[str, str] = {}) -> None:
        """Write a file that was not there, with its properties where files have such.

        The same content under the same name again is no error.

        Raises Taken if other content has that name, Refused with the reason if it cannot be written.
        """

    def read(self, path: PurePosixPath) -> bytes:
        """What is there under that name; nothing where nothing is. Raises Refused with the reason."""

    def remove(self, path: PurePosixPath, sha256: str) -> bool:
        """Remove the file if it has that content; returns whether it was there. Raises Refused with the reason."""


class SharedFiles(Files, Protocol):
    """Files that several write in."""

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
    files: tuple[tuple[str, bytes], ...]
    """Name and content of each."""
    identity: str
    """The same whenever it is sent again, so that the receiver can tell (Message-ID, RFC 5322)."""


class Post(Protocol):
    """What sends e-mail."""

    def send(self, parcel: Parcel) -> None:
        """Raises Refused with a sentence."""


MOST_ANSWER = 2_000_000
"""Bytes of an answer that are read, unless more are asked for."""


@dataclass(frozen=True)
class Answer:
    """What came back."""

    status: int
    body: bytes
    head: Mapping[str, str] = field(default_factory=dict)
    """Its header fields, by their names in small letters."""


class Web(Protocol):
    """What speaks to other machines for destinations."""

    house: str
    """What names this installation, so that two that send to one place are told apart."""

    def call(
        self, method: str, address: str, secret: str, body: bytes = b"", head: Mapping[str, str] = {}, *,
        user: str = "", most: int = MOST_ANSWER,
    ) -> Answer:  # fmt: skip
        """Ask an address over HTTP, with the secret of that name as bearer token (RFC 6750).

        With a user it is the user's password (RFC 7617). At most so many bytes of the answer are read.

        Raises Refused where it may not be asked, Later where it does not answer now.
        """

    def permit(self, address: str) -> None:
        """Raises Refused where the administrator does not allow the address."""

    def secret(self, name: str) -> str:
        """The secret of that name. Raises Refused where there is none."""


@dataclass(frozen=True)
class Outlets:
    """The ways out of the house, as the desk provides them."""

    folder: Callable[[str], SharedFiles]
    """The folder of that name among those for deliveries."""
    post: Post
    web: Web
    now: Callable[[], int]
    """The time, in seconds of Unix time."""
    kept: Callable[[str], bytes]
    """A file that was drawn, by the hash under which it is kept."""
    hand_on: Callable[[str, str, bytes, str, str], int]
    """To the lane of that key, under a name, the bytes, by a channel, known by an identity; returns its batch there."""


@dataclass(frozen=True)
class Drawn:
    """A file of a document in one form: by the hash under which it is kept, and what its name ends with."""

    blob: str
    suffix: str


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
    files: Mapping[Rendition, Drawn] = field(default_factory=dict)
    """In the forms that the lane's destinations want."""
    batch: str = ""
    """What names the batch that it came in."""
    version: int = 1
    """Above 1 where the document was corrected after it had been sent to this destination."""
    replaces: Plan | None = None
    """What was sent there of the version before."""
    replaces_record: str = ""
    """Id over there of the record of the version before."""

    @property
    def about(self) -> dict[str, str]:
        """What can be written of it besides its values."""
        return {
            "document": self.reference, "document_type": self.doc_type.name, "batch": self.batch, "lane": self.lane,
        }  # fmt: skip

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
    """The document as a searchable PDF, by the hash under which it is kept."""
    version: int = 1
    settings: int = 0
    """By which revision of the destination's settings; 0 where that was not kept."""

    @property
    def can_be_recalled(self) -> bool:
        """Whether what was sent can be taken out over there again."""
        return False

    @property
    def blobs(self) -> tuple[str, ...]:
        """All files of it that are kept, by their hashes."""
        return (self.pdf,)

    @property
    def promised(self) -> tuple[str, str] | None:
        """The place and the name there that nobody else may be promised; None where names are free."""
        return None

    @property
    def told(self) -> str:
        """What is sent, as a person reads it."""
        return self.model_dump_json(exclude_defaults=True, exclude={"pdf", "blob", "secret"}, indent=2)

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
    settings: int = 0
    """By which revision of the destination's settings it was planned; 0 where that was not kept."""
    bytes: int
    sha256: str
    file: str = ""
    beside: tuple[str, ...] = ()
    """Further files of it."""
    rows: tuple[str, ...] = ()
    """Files that a row was added to."""
    tables: tuple[TableReceipt, ...] = ()
    records: int | None = None
    """How many rows of a list."""
    mail: str = ""
    record: str = ""
    """Its id over there."""
    at: str = ""
    """The address that took it."""
    handed_on: int | None = None
    """The batch that it is in at the other lane."""


@dataclass(frozen=True)
class Asked:
    """What a person enters to set a destination up: a setting of it, or its secret."""

    key: str
    label: str
    example: str = ""
    needed: bool = True
    long: bool = False
    """Whether it may have several lines."""
    choices: Mapping[str, str] = field(default_factory=dict)
    """What it may be, by code; empty where it is entered."""
    of_tables: bool = False
    """Whether it is a table of the lane's document type, or none."""


SECRET = "secret"  # noqa: S105 - the key of the entry, no secret itself
"""The entry that is kept sealed and not shown again."""


@dataclass(frozen=True)
class Shown:
    """What a document would leave at a destination."""

    to: str
    files: tuple[str, ...] = ()
    columns: tuple[str, ...] = ()
    rows: tuple[tuple[str, ...], ...] = ()
    problems: tuple[str, ...] = ()


@dataclass(frozen=True)
class Trial:
    """What was sent of one document to try a destination, what came back, and what was removed there again."""

    sent: str
    came_back: str
    removed: tuple[str, ...]


class Destination(BaseModel):
    """Where a lane delivers. Each subclass has a ``destination`` code of its own."""

    model_config = ConfigDict(frozen=True)

    title: ClassVar[str]
    """What it is called where it did not take something."""
    kind: ClassVar[str] = ""
    """What such destinations are called."""
    about: ClassVar[str] = ""
    """What it is for, in a sentence."""
    asks: ClassVar[tuple[Asked, ...]] = ()
    """What a person enters to set it up; empty where that is done elsewhere."""

    id: str = Field(default="", pattern=r"^[a-z0-9-]*$", max_length=40)
    """Names it within its lane for good; its deliveries are kept under it."""
    revision: int = 1
    """Counts up when changed settings of it become active."""

    @property
    def shown(self) -> str:
        """Where it delivers, as a batch says it."""
        return self.title

    @property
    def can_be_tried(self) -> bool:
        """Whether what is sent to try it is taken out there again."""
        return False

    @property
    def wants(self) -> tuple[Rendition, ...]:
        """In which forms it takes a document, besides the searchable PDF."""
        return ()

    def plan(self, document: Outgoing, is_taken: Callable[[str, PurePosixPath], bool], outlets: Outlets) -> Plan | None:
        """What of the document will be sent; None where this one is not for it. Raises Refused with the reason.

        ``is_taken`` says whether a name at a place is promised to another document.
        """
        raise NotImplementedError

    def send(self, plan: Plan, outlets: Outlets) -> Receipt:
        """Send what is planned; sending it again leaves it there once. Raises Refused with the reason, or Taken."""
        raise NotImplementedError

    def met(self, outlets: Outlets) -> Self:  # noqa: ARG002 - where there is nothing to ask
        """The destination with what the other side says of itself, asked now: its columns, its key.

        Raises Refused, Later where it cannot be reached as it is set up.
        """
        return self

    def shown_of(self, document: Outgoing) -> Shown:
        """What the document would leave there, without asking the other side."""
        raise NotImplementedError

    def tried(self, document: Outgoing, outlets: Outlets) -> Trial:
        """Send the document now and, where that can be, take it out again. Raises Refused, Later, Taken."""
        plan = self.plan(document, lambda place, path: False, outlets)  # noqa: ARG005 - a trial is promised nothing
        if plan is None:
            raise Refused("This document is not for it.")
        try:
            receipt = self.send(plan, outlets)
        except Refused:
            with contextlib.suppress(Refused):
                plan.recall(outlets)
            raise
        try:
            removed = plan.recall(outlets)
        except Refused as problem:
            raise Refused(f"It was sent, and could not be removed again: {problem}") from problem
        return Trial(plan.told, receipt.model_dump_json(exclude_defaults=True, indent=2), removed)
