"""Documents filed under names of their own, in any place that takes files: what all such destinations share."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator, Mapping
from pathlib import PurePosixPath
from typing import TypeVar

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.writing.file_names import Naming, compose, never_taken, of_version
from zestpail.core.writing.renditions import Rendition, told_apart, usual_suffix
from zestpail.delivery.destination import Destination, Files, Outgoing, Outlets, Plan, Receipt, Refused, Shown

P = TypeVar("P", bound=Plan)
IsTaken = Callable[[str, PurePosixPath], bool]


class PlannedFile(BaseModel):
    """A file under its name, by the hash under which it is kept."""

    model_config = ConfigDict(frozen=True)

    path: str
    blob: str


class FilingPlan(Plan):
    """A document under a name of its own, with whatever other files of it lie beside it."""

    path: str
    blob: str = ""
    """What is filed under that name; "" for the searchable PDF."""
    beside: tuple[PlannedFile, ...] = ()

    @property
    def files(self) -> tuple[PlannedFile, ...]:
        """All of them."""
        return (PlannedFile(path=self.path, blob=self.blob or self.pdf), *self.beside)

    @property
    def blobs(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys((self.pdf, *(one.blob for one in self.files))))

    @property
    def place(self) -> str:
        """What names the place that its files are in."""
        raise NotImplementedError

    def there(self, outlets: Outlets) -> Files:
        """The files of that place."""
        raise NotImplementedError

    @property
    def promised(self) -> tuple[str, str]:
        return self.place, self.path

    @property
    def can_be_recalled(self) -> bool:
        return True

    def recall(self, outlets: Outlets) -> tuple[str, ...]:
        """The files, if they are still as they were written."""
        return tuple(f"{self.place}/{name}" for name in self.taken_out(self.there(outlets)))

    def taken_out(self, files: Files) -> Iterator[str]:
        """Remove those files that are still as they were written; yields the names of what was removed."""
        for one in reversed(self.files):
            if files.remove(PurePosixPath(one.path), one.blob):
                yield one.path


class FilingDestination(Destination):
    """A place that takes documents as files."""

    naming: Naming | None = None
    """Folders and file names there; None for those of the lane."""
    files: tuple[Rendition, ...] = Field(default=("searchable_pdf",), min_length=1)
    """In which forms."""

    @property
    def wants(self) -> tuple[Rendition, ...]:
        return self.files

    @property
    def can_be_tried(self) -> bool:
        return True

    def filed(self, document: Outgoing, place: str, is_taken: IsTaken, files: Files) -> tuple[PlannedFile, ...]:
        """The files with names that neither the place holds nor another document was promised.

        Raises Refused where the place cannot be looked at.
        """
        drawn = {form: document.files[form] for form in self.files if form in document.files}
        suffixes = told_apart({form: one.suffix for form, one in drawn.items()})
        first = next(iter(suffixes.values()))

        def beside(path: PurePosixPath, suffix: str) -> PurePosixPath:
            return path.with_name(path.name.removesuffix(first) + suffix)

        def taken(path: PurePosixPath) -> bool:
            return is_taken(place, path) or any(files.holds(beside(path, suffix)) for suffix in suffixes.values())

        named = compose(self.naming or document.naming, document.named, document.counter, first.removeprefix("."))
        path = never_taken(of_version(named, document.version), taken)
        return tuple(
            PlannedFile(path=str(beside(path, suffix)), blob=drawn[form].blob) for form, suffix in suffixes.items()
        )

    def shown_of(self, document: Outgoing) -> Shown:
        """Its files, by the names that they have if nobody else has them."""
        suffixes = told_apart({form: usual_suffix(form) for form in self.files})
        first = next(iter(suffixes.values()))
        named = compose(self.naming or document.naming, document.named, document.counter, first.removeprefix("."))
        stem = str(of_version(named, document.version)).removesuffix(first)
        return Shown(self.shown, tuple(stem + suffix for suffix in suffixes.values()))

    def filed_now(
        self, plan: FilingPlan, files: Files, outlets: Outlets, properties: Mapping[str, str] = {}
    ) -> Receipt:
        """Put the files there, the same however often it is done. Raises Refused, Taken, Later."""
        first = b""
        for one in reversed(plan.files):  # the document itself comes last: where it is, all is
            first = outlets.kept(one.blob)
            files.put(PurePosixPath(one.path), first, properties)
        return Receipt(
            reference=plan.reference, version=plan.version, bytes=len(first), sha256=hashlib.sha256(first).hexdigest(),
            file=plan.path, beside=tuple(one.path for one in plan.beside),
        )  # fmt: skip


def of_kind(plan: Plan, kind: type[P]) -> P:
    """The plan, if it was made for that kind of destination. Raises Refused."""
    if not isinstance(plan, kind):
        raise Refused("This was planned for another kind of destination.")
    return plan
