"""A document repository over WebDAV as a destination (RFC 4918): folders that make themselves, files, and properties.

A file arrives beside its name, gets its properties there, and is then moved to the name without writing over another
(``Overwrite: F``, RFC 4918, 9.9): it is there whole, with its properties, or not at all.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping
from dataclasses import replace
from pathlib import PurePosixPath
from typing import ClassVar, Literal
from urllib.parse import quote, unquote, urlsplit
from xml.etree import ElementTree as ET

from defusedxml.ElementTree import fromstring
from pydantic import Field
from slugify import slugify

from zestpail.core.writing.page_texts import legal
from zestpail.core.writing.renditions import media_type
from zestpail.delivery.columns import Column, ColumnKind, Columns
from zestpail.delivery.destination import (
    SECRET,
    Answer,
    Asked,
    Files,
    Later,
    Outgoing,
    Outlets,
    Plan,
    Receipt,
    Refused,
    Shown,
    Taken,
    Web,
)
from zestpail.delivery.filing import FilingDestination, FilingPlan, of_kind
from zestpail.delivery.mapped import MappedDestination

COLUMNS = "urn:zestpail:columns"
"""The namespace of the properties that are columns."""
DIGEST = "{urn:zestpail:file}sha256"
"""The property that says what a file was written with."""
MOST_BYTES = 500_000_000
"""Of a file that is compared."""
MOST_FOLDERS = 20
"""That are looked into for names of properties."""
MULTI_STATUS, CONFLICT, PRECONDITION_FAILED, NOT_ALLOWED = 207, 409, 412, 405


class RepositoryPlan(FilingPlan):
    """Files with their names, and the properties of each."""

    destination: Literal["repository"] = "repository"
    address: str
    user: str = ""
    secret: str = ""
    properties: Mapping[str, str] = Field(default_factory=dict)

    @property
    def place(self) -> str:
        return self.address

    def there(self, outlets: Outlets) -> Files:
        return DavFiles(outlets.web, self.address, self.user, self.secret)


class RepositoryDestination(FilingDestination, MappedDestination):
    """A folder of a document repository."""

    title: ClassVar[str] = "to a document repository"
    kind: ClassVar[str] = "Document repository"
    about: ClassVar[str] = "files with properties in a document repository (WebDAV)"
    asks: ClassVar[tuple[Asked, ...]] = (
        Asked("name", "What you call it", "Repository"),
        Asked("address", "Address of its folder", "https://repository.example.org/files/harbour"),
        Asked("user", "User", needed=False),
        Asked(SECRET, "Password, or key without a user", needed=False),
    )
    destination: Literal["repository"] = "repository"
    address: str = Field(min_length=1, max_length=500)
    """The folder over there, under which documents are filed."""
    user: str = Field(default="", max_length=100)
    secret: str = ""
    """Name of the secret that is the user's password, or a bearer token without a user."""

    columns_can_be_named: ClassVar[bool] = True

    def new_column(self, name: str, kind: ColumnKind) -> Column:  # noqa: ARG002 - properties are texts
        key = slugify(name, separator="_")
        if not key or not (key[0].isalpha() or key[0] == "_"):
            raise ValueError("The name of a property begins with a letter.")
        return Column(key=key, name=name)

    @property
    def called(self) -> str:
        return self.name or self.address

    @property
    def shown(self) -> str:
        return f"to the document repository {self.called}"

    def plan(
        self, document: Outgoing, is_taken: Callable[[str, PurePosixPath], bool], outlets: Outlets
    ) -> RepositoryPlan:
        first, *beside = self.filed(document, self.address, is_taken, self._there(outlets))
        properties = {key: str(value) for key, value in self.record_of(document).items()}
        return RepositoryPlan(
            reference=document.reference, pdf=document.pdf, version=document.version, path=first.path,
            blob=first.blob, beside=tuple(beside), address=self.address, user=self.user, secret=self.secret,
            properties=properties,
        )  # fmt: skip

    def send(self, plan: Plan, outlets: Outlets) -> Receipt:
        there = of_kind(plan, RepositoryPlan)
        receipt = self.filed_now(there, there.there(outlets), outlets, there.properties)
        return receipt.model_copy(update={"at": there.address})

    def shown_of(self, document: Outgoing) -> Shown:
        """Its files, and their properties."""
        filed = FilingDestination.shown_of(self, document)
        return replace(MappedDestination.shown_of(self, document), files=filed.files)

    def asked_columns(self, outlets: Outlets) -> Columns:
        """Those that files over there have already, with those that were named here."""
        found = self._there(outlets).properties()
        known = {column.key: column for column in self.columns.plain}
        fresh = {key: Column(key=key, name=key.replace("_", " ")) for key in found if key not in known}
        return Columns(plain=(*known.values(), *fresh.values()))

    def _there(self, outlets: Outlets) -> DavFiles:
        return DavFiles(outlets.web, self.address, self.user, self.secret)


class DavFiles:
    """The files of a folder over WebDAV."""

    def __init__(self, web: Web, address: str, user: str, secret: str) -> None:
        self._web, self._address, self._user, self._secret = web, address.rstrip("/"), user, secret

    def holds(self, path: PurePosixPath) -> bool:
        return self._found(path) is not None

    def put(self, path: PurePosixPath, data: bytes, properties: Mapping[str, str] = {}) -> None:
        digest = hashlib.sha256(data).hexdigest()
        found = self._found(path)
        if found is not None:
            self._same(path, found, digest)
            return
        self._make_folders(path)
        arriving = self._arriving(path)
        self._expect(self._call("PUT", arriving, data, {"content-type": media_type(path.name)}), path, 200, 201, 204)
        self._describe(arriving, {DIGEST: digest} | {f"{{{COLUMNS}}}{key}": text for key, text in properties.items()})
        there = {"destination": self._at(path), "overwrite": "F"}
        moved = self._call("MOVE", arriving, head=there)
        if moved.status == PRECONDITION_FAILED:
            self._call("DELETE", arriving)
            self._same(path, self._found(path) or {}, digest)
        else:
            self._expect(moved, path, 200, 201, 204)

    def read(self, path: PurePosixPath) -> bytes:
        answer = self._call("GET", path, most=MOST_BYTES)
        self._expect(answer, path, 200, 404)
        return answer.body if answer.status == 200 else b""

    def remove(self, path: PurePosixPath, sha256: str) -> bool:
        found = self._found(path)
        if found is None:
            self._call("DELETE", self._arriving(path))  # what broke off before it had its name
        if found is None or found.get(DIGEST, sha256) != sha256:
            return False
        data = self._call("GET", path, most=MOST_BYTES)
        if data.status != 200 or hashlib.sha256(data.body).hexdigest() != sha256:
            return False
        unchanged = {"if-match": data.head["etag"]} if "etag" in data.head else {}
        gone = self._call("DELETE", path, head=unchanged)
        if gone.status == PRECONDITION_FAILED:
            return False
        self._expect(gone, path, 200, 204, 404)
        return True

    def properties(self) -> list[str]:
        """Names of the columns that files have in the folder and below, so far as is looked. Raises Refused, Later."""
        folders, names, looked = [PurePosixPath()], set[str](), 0
        while folders and looked < MOST_FOLDERS:
            folder, looked = folders.pop(0), looked + 1
            answer = self._call("PROPFIND", folder, _asking("allprop"), {"depth": "1", **_XML})
            if answer.status == 404:
                continue
            self._expect(answer, folder, MULTI_STATUS)
            for told in _tree(answer).iter("{DAV:}response"):
                tags = [one.tag for found in told.iter("{DAV:}prop") for one in found]
                names |= {tag.removeprefix(f"{{{COLUMNS}}}") for tag in tags if tag.startswith(f"{{{COLUMNS}}}")}
                within = self._relative(told.findtext("{DAV:}href") or "")
                if next(told.iter("{DAV:}collection"), None) is not None and within not in (None, folder):
                    folders.append(within or PurePosixPath())
        return sorted(names)

    def _relative(self, href: str) -> PurePosixPath | None:
        """What an answer speaks of, from the folder on; None for what lies elsewhere."""
        there, own = PurePosixPath(unquote(urlsplit(href).path)), PurePosixPath(unquote(urlsplit(self._address).path))
        return there.relative_to(own) if there.is_relative_to(own) else None

    def _found(self, path: PurePosixPath) -> dict[str, str] | None:
        """The properties of what has that name; None where nothing has."""
        answer = self._call("PROPFIND", path, _asking("allprop"), {"depth": "0", **_XML})
        if answer.status == 404:
            return None
        self._expect(answer, path, MULTI_STATUS)
        return {one.tag: one.text or "" for told in _tree(answer).iter("{DAV:}prop") for one in told}

    def _same(self, path: PurePosixPath, found: Mapping[str, str], digest: str) -> None:
        """Raises Taken unless what is there was written with that content."""
        there = found.get(DIGEST)
        if there is None:
            there = hashlib.sha256(self.read(path)).hexdigest()
        if there != digest:
            raise Taken(f"{path} is there already with other content.")

    def _arriving(self, path: PurePosixPath) -> PurePosixPath:
        """The name that a file has until it is whole; the same at every attempt."""
        mark = hashlib.sha256(f"{self._web.house} {path}".encode()).hexdigest()[:16]
        return path.with_name(f"arriving-{mark}")

    def _make_folders(self, path: PurePosixPath) -> None:
        """Those above, outermost first; that one is there already is no error (405)."""
        for folder in reversed(path.parents):
            self._expect(self._call("MKCOL", folder), folder, 201, NOT_ALLOWED)

    def _describe(self, path: PurePosixPath, properties: Mapping[str, str]) -> None:
        update = ET.Element("{DAV:}propertyupdate")
        told = ET.SubElement(ET.SubElement(update, "{DAV:}set"), "{DAV:}prop")
        for tag, text in properties.items():
            ET.SubElement(told, tag).text = legal(text)
        answer = self._call("PROPPATCH", path, ET.tostring(update, "utf-8", xml_declaration=True), _XML)
        self._expect(answer, path, MULTI_STATUS)
        refused = [one.text or "" for one in _tree(answer).iter("{DAV:}status") if " 200" not in (one.text or "")]
        if refused:
            raise Refused(f"{self._address} does not take the properties of a file: {refused[0]}.")

    def _call(
        self, method: str, path: PurePosixPath, body: bytes = b"", head: Mapping[str, str] = {}, most: int = 20_000_000
    ) -> Answer:
        wanted = {"accept": "*/*", "content-type": "application/octet-stream", **head}
        return self._web.call(method, self._at(path), self._secret, body, wanted, user=self._user, most=most)

    def _at(self, path: PurePosixPath) -> str:
        return f"{self._address}/{quote(str(path))}" if path.parts else f"{self._address}/"

    def _expect(self, answer: Answer, path: PurePosixPath, *wanted: int) -> None:
        if answer.status in (401, 403):
            raise Refused(f"{self._address} does not let us in: user or password are not right, or may not do this.")
        if answer.status == CONFLICT:
            raise Later(f"{self._address} lacks the folder of {path}.")
        if answer.status not in wanted:
            raise Refused(f"{self._address} answers {answer.status} for {path}.")


_XML = {"content-type": "application/xml; charset=utf-8"}


def _asking(what: str) -> bytes:
    asked = ET.Element("{DAV:}propfind")
    ET.SubElement(asked, f"{{DAV:}}{what}")
    return bytes(ET.tostring(asked, "utf-8", xml_declaration=True))


def _tree(answer: Answer) -> ET.Element:
    try:
        tree: ET.Element = fromstring(answer.body)
    except (ET.ParseError, ValueError) as problem:
        raise Refused("The document repository answers with something that is no XML.") from problem
    return tree
