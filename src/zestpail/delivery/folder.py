"""A folder of this machine as a destination: searchable PDFs, named and filed, and rows in spreadsheets beside them."""

from __future__ import annotations

import errno
import hashlib
import os
import stat
import uuid
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path, PurePosixPath
from typing import ClassVar, Literal, Self

from filelock import FileLock
from pydantic import Field

from zestpail.delivery.destination import (
    Asked,
    Files,
    Later,
    Outgoing,
    Outlets,
    Plan,
    Receipt,
    Refused,
    SharedFiles,
    TableReceipt,
    Taken,
)
from zestpail.delivery.filing import FilingDestination, FilingPlan, of_kind
from zestpail.delivery.rows import (
    PlannedRows,
    TableExport,
    document_row,
    may_be_written,
    remove_rows,
    table_rows,
    write_rows,
)

PASSING = frozenset({
    errno.ENOSPC, errno.EDQUOT, errno.EIO, errno.ESTALE, errno.ETIMEDOUT, errno.EHOSTDOWN, errno.EHOSTUNREACH,
    errno.ENOTCONN, errno.EBUSY, errno.ENOLCK,
})  # fmt: skip
"""What is wrong with a folder, and may be right again by itself."""


class FolderPlan(FilingPlan):
    """A document under a name of its own, and the rows that go with it."""

    destination: Literal["folder"] = "folder"
    folder: str
    rows: tuple[PlannedRows, ...] = ()
    """Of the document itself, and then of its tables."""
    no_longer: tuple[PlannedRows, ...] = ()
    """Rows of the version before, of tables that have none now."""

    @property
    def place(self) -> str:
        return self.folder

    def there(self, outlets: Outlets) -> Files:
        return outlets.folder(self.folder)

    @property
    def shared_rows(self) -> tuple[PlannedRows, ...]:
        """Those in files that other documents have rows in too."""
        own = str(PurePosixPath(self.path).with_suffix(""))
        return tuple(rows for rows in self.rows if not rows.csv.startswith(own))

    def recall(self, outlets: Outlets) -> tuple[str, ...]:
        """The files, if they are still as they were written, and the rows with its reference."""
        files, removed = outlets.folder(self.folder), []
        for rows in self.rows:
            removed += list(remove_rows(files, rows, self.reference))
        removed += self.taken_out(files)
        return tuple(f"{self.folder}/{name}" for name in removed)


class FolderDestination(FilingDestination):
    """A folder under the one for deliveries, and spreadsheets beside the documents."""

    title: ClassVar[str] = "to a folder"
    kind: ClassVar[str] = "Folder"
    about: ClassVar[str] = "files in a folder of this machine, named by values"
    asks: ClassVar[tuple[Asked, ...]] = (Asked("folder", "Folder", "invoices/2026"),)
    destination: Literal["folder"] = "folder"
    folder: str = Field(min_length=1)
    csv: str = ""
    """The spreadsheets that get a row of each document; "" for none."""
    xlsx: str = ""
    tables: tuple[TableExport, ...] = ()

    @property
    def shown(self) -> str:
        return f"to the folder {self.folder}"

    def met(self, outlets: Outlets) -> Self:
        outlets.folder(self.folder).holds(PurePosixPath("."))
        return self

    def plan(self, document: Outgoing, is_taken: Callable[[str, PurePosixPath], bool], outlets: Outlets) -> FolderPlan:
        """Names that neither the folder holds nor another document was promised."""
        first, *beside = self.filed(document, self.folder, is_taken, outlets.folder(self.folder))
        rows: tuple[PlannedRows, ...] = ()
        if self.csv and self.xlsx:
            tables = table_rows(document, self.tables, self.csv, PurePosixPath(first.path))
            rows = (document_row(document, self.csv, self.xlsx), *tables)
        may_be_written(rows)
        before = document.replaces.shared_rows if isinstance(document.replaces, FolderPlan) else ()
        return FolderPlan(
            reference=document.reference, pdf=document.pdf, version=document.version, folder=self.folder,
            path=first.path, blob=first.blob, beside=tuple(beside), rows=rows,
            no_longer=tuple(one for one in before if one.csv not in {r.csv for r in rows}),
        )  # fmt: skip

    def send(self, plan: Plan, outlets: Outlets) -> Receipt:
        """The files first, then its rows: all are the same however often they are written."""
        there = of_kind(plan, FolderPlan)
        files = outlets.folder(there.folder)
        receipt = self.filed_now(there, files, outlets)
        for rows in there.no_longer:
            list(remove_rows(files, rows, there.reference))
        written = [_placed(there.folder, write_rows(files, rows, there.reference)) for rows in there.rows]
        return receipt.model_copy(update={
            "file": f"{there.folder}/{there.path}", "beside": tuple(f"{there.folder}/{one}" for one in receipt.beside),
            "rows": written[0].files if written else (), "tables": tuple(written[1:]),
        })  # fmt: skip


def folder_files(root: Path, allowed: Sequence[Path], folder: str) -> SharedFiles:
    """The files of that folder under ``root``, or of one elsewhere that lies in an allowed one.

    Raises Refused where it lies in none.
    """
    place = Path(folder)
    if ".." in place.parts:
        raise Refused(f"{folder} lies outside the folder for deliveries.")
    if place.is_absolute() and not is_allowed(place, allowed):
        raise Refused(f"{folder} is not among the folders that the administrator allows.")
    return FolderFiles(root / place, locks=root / ".locks")


def is_allowed(place: Path, allowed: Sequence[Path]) -> bool:
    """Whether a folder is, or lies in, one of those that the administrator allows for deliveries."""
    return any(place.resolve().is_relative_to(one.resolve()) for one in allowed)


def _placed(folder: str, receipt: TableReceipt) -> TableReceipt:
    return receipt.model_copy(update={"files": tuple(f"{folder}/{name}" for name in receipt.files)})


def _refusal(what: str, error: OSError) -> Refused:
    """One that is over in a while where the disk is full, or the other end of a network folder is not there."""
    message = f"{what}: {(error.strerror or str(error)).lower()}."
    return Later(message) if error.errno in PASSING else Refused(message)


def _make_folder(folder: Path) -> None:
    """Make what is missing of it, for the same people as what it lies in: those who fetch from there shall find it."""
    if not folder.exists():
        _make_folder(folder.parent)
        folder.mkdir(exist_ok=True)
        folder.chmod(stat.S_IMODE(folder.parent.stat().st_mode))


class FolderFiles:
    """Files under ``root``; nothing is ever written outside it or over something else.

    Writers of one file wait for each other by lock files in ``locks``, apart from what is delivered.
    """

    def __init__(self, root: Path, locks: Path) -> None:
        self.root, self._locks = root, locks

    def holds(self, path: PurePosixPath) -> bool:
        try:
            return self._inside(path).exists()
        except OSError as error:
            raise _refusal(f"{path} cannot be looked for", error) from error

    def put(self, path: PurePosixPath, data: bytes, properties: Mapping[str, str] = {}) -> None:  # noqa: ARG002
        target = self._inside(path)
        try:
            arriving = self._written_beside(target, data)
            try:
                os.link(arriving, target)  # unlike a rename this fails if the name is taken
            except FileExistsError as error:
                if target.read_bytes() != data:
                    raise Taken(f"{path} is there already with other content.") from error
            finally:
                arriving.unlink()
        except OSError as error:
            raise _refusal(f"{path} cannot be written", error) from error

    def read(self, path: PurePosixPath) -> bytes:
        target = self._inside(path)
        try:
            return target.read_bytes() if target.exists() else b""
        except OSError as error:
            raise _refusal(f"{path} cannot be read", error) from error

    def remove(self, path: PurePosixPath, sha256: str) -> bool:
        target = self._inside(path)
        try:
            if not target.exists() or hashlib.sha256(target.read_bytes()).hexdigest() != sha256:
                return False
            target.unlink()
            for folder in target.parents:
                if folder == self.root or any(folder.iterdir()):
                    break
                folder.rmdir()
        except OSError as error:
            raise _refusal(f"{path} cannot be removed", error) from error
        return True

    def rewrite(self, path: PurePosixPath, change: Callable[[bytes], bytes]) -> bool:
        target = self._inside(path)
        try:
            _make_folder(target.parent)
            self._locks.mkdir(parents=True, exist_ok=True)
            with FileLock(self._locks / f"{hashlib.sha256(bytes(target)).hexdigest()[:16]}.lock", timeout=60):
                before = target.read_bytes() if target.exists() else b""
                after = change(before)
                if after != before:
                    self._written_beside(target, after).replace(target)
                return after != before
        except OSError as error:
            raise _refusal(f"{path} cannot be added to", error) from error
        except ValueError as error:
            raise Refused(f"{path} cannot be added to: {error}") from error

    def _inside(self, path: PurePosixPath) -> Path:
        if path.is_absolute() or ".." in path.parts:
            raise Refused(f"{path} lies outside the destination.")
        target = self.root.joinpath(*path.parts)
        if not target.resolve().is_relative_to(self.root.resolve()):
            raise Refused(f"{path} lies outside the destination.")
        return target

    def _written_beside(self, target: Path, data: bytes) -> Path:
        _make_folder(target.parent)
        arriving = target.with_name(f".{uuid.uuid4().hex}.arriving")
        try:
            with arriving.open("wb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
                rights = target.stat().st_mode if target.exists() else target.parent.stat().st_mode & 0o666
                os.fchmod(file.fileno(), stat.S_IMODE(rights))
        except OSError:
            arriving.unlink(missing_ok=True)
            raise
        return arriving
