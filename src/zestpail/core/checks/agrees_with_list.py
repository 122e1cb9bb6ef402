"""The checks that hold a document against a reference list: its entry is there, and says the same."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from zestpail.core.checks.check import Check, lower
from zestpail.core.checks.verdict import DocumentValues, Offer, Verdict
from zestpail.core.reference.traces import bare
from zestpail.core.setting import Setting


class InList(Check):
    """The entry that the document speaks of is in the list; or a field's value is in a column of the list."""

    title: ClassVar[str] = "it is in a reference list"
    check: Literal["in_list"] = "in_list"
    field: Annotated[str, Setting("", "field")]
    list: Annotated[str, Setting("is in the reference list", "list")]
    column: Annotated[str, Setting("in the column (none: the entry is found by all that is known)", "list_column")] = ""

    @property
    def id(self) -> str:
        return f"in_list:{self.field}:{self.list}{f':{self.column}' if self.column else ''}"

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.field,)

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        where = f", in the column “{self.column.replace('_', ' ')}”" if self.column else ""
        return f"{names[self.field]} is in the reference list “{self.list.replace('-', ' ')}”{where}."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether it is there; None where the list is not kept, or the value that is to be there is missing."""
        model = document.lists.model(self.list)
        if model is None:
            return None
        if self.column:
            return self._by_column(document, model.name)
        entry = document.entries.get(self.list)
        if entry is None:
            return self.verdict(False, f"{document.name(self.field)} is not known: no entry of “{model.name}” fits.")
        return self.verdict(True, f"{document.name(self.field)} is {entry.label} of “{model.name}”.")

    def _by_column(self, document: DocumentValues, name: str) -> Verdict | None:
        value = document.values.get(self.field)
        if not value:
            return None
        there = bool(document.lists.having(self.list, self.column, value))
        said = "is" if there else "is not"
        return self.verdict(there, f"{document.name(self.field)} {value} {said} in “{name}”.")


class AgreesWithList(Check):
    """A field says what the list says of the entry that the document speaks of: the account, for instance."""

    title: ClassVar[str] = "it agrees with a reference list"
    check: Literal["agrees_with_list"] = "agrees_with_list"
    field: Annotated[str, Setting("", "field")]
    list: Annotated[str, Setting("agrees with the reference list", "list")]
    column: Annotated[str, Setting("in the column", "list_column")]

    @property
    def id(self) -> str:
        return f"agrees_with_list:{self.field}:{self.list}:{self.column}"

    @property
    def touches(self) -> tuple[str, ...]:
        return (self.field,)

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it."""
        listed, column = self.list.replace("-", " "), self.column.replace("_", " ")
        return f"{names[self.field]} is what the reference list “{listed}” says under “{column}”."

    def judge(self, document: DocumentValues) -> Verdict | None:
        """Whether both say the same; None where no entry was found, or one of them says nothing."""
        entry, model = document.entries.get(self.list), document.lists.model(self.list)
        value = document.values.get(self.field)
        wanted = entry.in_column(self.column) if entry else ()
        if entry is None or model is None or not value or not wanted:
            return None
        name, column = document.name(self.field), model.column(self.column)
        said = column.name if column else self.column
        if any(bare(value) == bare(one) for one in wanted):
            return self.verdict(True, f"{name} is the one that “{model.name}” has of {entry.label}.")
        offer = Offer(field=self.field, value=wanted[0], text=f"{wanted[0]}, as the list says")
        message = (
            f"{name} {value} is not the {lower(said)} of {entry.label} in “{model.name}”: there it is {wanted[0]}."
        )
        return self.verdict(False, message, offers=(offer,))
