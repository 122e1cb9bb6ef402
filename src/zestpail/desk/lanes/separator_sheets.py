"""Composing cover and separator sheets to be printed."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import get_args

from pydantic import ValidationError

from zestpail.core.separation.printed_sheets import Paper, Sheet, cover_sheet, separator_sheet, sheets_pdf
from zestpail.desk.documents.context import lane_of_key, type_names
from zestpail.desk.documents.messages import NotDone
from zestpail.store import Store

ANY_TYPE = "any"
MOST_SHEETS = 200


def print_sheets(
    store: Store, lane: str, values: str, separators: Sequence[str], copies: int, paper: str, mail: str = ""
) -> bytes:
    """A PDF with a cover sheet, if there are values for it, and the separator sheets of those types, in copies.

    ``values`` has one ``name: value`` a line. With ``mail``, separators have what follows sent there too. Raises
    NotDone with a sentence for what cannot be printed.
    """
    with store.transaction() as session:
        names = type_names(session)
        lane_settings, address = lane_of_key(session, lane).settings, mail.strip()
    if address and not lane_settings.may_mail(address):
        raise NotDone(f"{address[:80]} is an address that the lane does not allow. Allow it in its settings first.")
    if address and not separators:
        separators = [ANY_TYPE]
    unknown = [key for key in separators if key != ANY_TYPE and key not in names]
    if unknown:
        raise NotDone(f"There is no document type {unknown[0]}.")
    details, many = list(_values(values)), bool(values.strip()) + len(separators) * max(copies, 1)
    if many > MOST_SHEETS:
        raise NotDone(f"That makes {many} sheets; at most {MOST_SHEETS} are printed at once.")
    try:
        sheets: list[Sheet] = [cover_sheet(details)] if details else []
        for key in separators:
            known = "" if key == ANY_TYPE else key
            sheets += [separator_sheet(known, names.get(known, ""), address)] * max(copies, 1)
    except ValidationError as error:
        raise NotDone("A cover sheet takes at most six values. Print two for two bundles.") from error
    if not sheets:
        raise NotDone("Give values for a cover sheet, or choose separator sheets.")
    return sheets_pdf(sheets, paper if paper in get_args(Paper) else "A4")  # type: ignore[arg-type]


def _values(text: str) -> Iterator[tuple[str, str]]:
    for line in filter(None, map(str.strip, text.splitlines())):
        name, colon, value = line.partition(":")
        if not colon or not name.strip() or not value.strip():
            raise NotDone(f"“{line[:60]}” is not of the form name: value.")
        yield name.strip().lower().replace(" ", "_"), value.strip()
