"""The settings of a lane as the dialogs of its letter show and send them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from zestpail.core.reading.features.barcodes import KINDS
from zestpail.core.reading.preparation.cleaning import CLEANING
from zestpail.core.separation.rules import BEGINNINGS, FIRST_PAGES, GOES_ON, KEPT_OR_NOT
from zestpail.core.writing.notes import NOTES_OUT
from zestpail.delivery import AnyDestination, FolderDestination, LaneDestination, MailDestination, is_allowed
from zestpail.desk.documents.messages import NotDone
from zestpail.store.lane_settings import LEARNS, LaneSettings

CHOICES: dict[str, dict[str, str]] = {
    "begin": BEGINNINGS,
    "bundles": {code: BEGINNINGS[code] for code in ("printed_sheet", "barcode")},
    "on": FIRST_PAGES,
    "blank_pages": KEPT_OR_NOT,
    "sheets": {code: KEPT_OR_NOT[code] for code in ("left_out", "kept")},
    "goes_on": GOES_ON,
    "blank": {"goes_on": "no beginning", "begins": "a beginning in any case"},
    "notes": {str(code): words for code, words in NOTES_OUT.items()},
    "learns": LEARNS,
    **CLEANING,
}
"""What can be chosen for each setting, by code, and what it is called."""


class LetterForm(BaseModel):
    """What the dialogs of all sentences send; a dialog sends the settings of its own sentence."""

    bundles: str = ""
    bundles_begin_with: str = ""
    begin: str = "each_file"
    pages: int = 1
    begins_with: str = ""
    never: str = ""
    pattern: str = ""
    on: str = "first_page"
    symbology: str = ""
    how_many: int = 1
    field: str = ""
    words: str = ""
    recognised_begins_with: str = ""
    blank: str = "goes_on"
    blank_pages: str = "kept"
    sheets: str = "left_out"
    goes_on: str = "at_once"
    type: str = ""
    other_types: list[str] = []
    skew: str = "straightened"
    borders: str = "kept"
    holes: str = "kept"
    specks: str = "kept"
    colours: str = "as_scanned"
    way: str = "ordinary"
    notes: str = "kept"
    mail_to: str = ""
    hand_on: str = ""
    review_below: float = 90
    review_others_below: float = 60
    take_back_seconds: int = 5
    learns: str = "never"
    kept_days: str = ""
    naming: str = ""
    folder: str = ""
    csv: str = ""
    xlsx: str = ""


def separation_of(form: LetterForm) -> dict[str, Any]:
    """How stacks are split, as entered. Raises NotDone."""
    document: dict[str, Any] = {"begin": form.begin}
    match form.begin:
        case "every_pages":
            document["pages"] = form.pages
        case "barcode":
            document |= {name: getattr(form, name).strip() for name in ("begins_with", "never", "pattern", "field")}
            document |= {"on": form.on, "how_many": form.how_many}
            document["symbologies"] = (form.symbology,) if form.symbology in KINDS else ()
        case "words":
            words = tuple(line.strip() for line in form.words.splitlines() if line.strip())
            if not words:
                raise NotDone("Say the words at which a document begins. Nothing was changed.")
            document["words"] = words
        case "recognised":
            document |= {"begins_with": form.recognised_begins_with.strip(), "blank": form.blank}
    bundles: dict[str, Any] | None = {"begin": form.bundles} if form.bundles else None
    if bundles and form.bundles == "barcode":
        bundles |= {"begins_with": form.bundles_begin_with.strip(), "on": "own_sheet"}
    return {"bundles": bundles, "documents": document, "blank_pages": form.blank_pages, "sheets": form.sheets,
            "goes_on": form.goes_on}  # fmt: skip


def destinations_of(
    form: LetterForm, lane_settings: LaneSettings, outside: Sequence[Path]
) -> tuple[AnyDestination, ...]:
    """The first folder, the addresses and the next lane as entered; other destinations stay. Raises NotDone."""
    folder, mail, lane = lane_settings.folder, lane_settings.mail, lane_settings.next_lane
    with_rows = bool(form.csv.strip() or form.xlsx.strip())
    names = {name: _plain_name(getattr(form, name), name) if with_rows else "" for name in ("csv", "xlsx")}
    names["folder"] = _folder(form.folder.strip(), outside)
    found: list[AnyDestination] = [
        folder.model_copy(update=names) if folder else FolderDestination.model_validate(names)
    ]
    allowed = tuple(_addresses(form.mail_to))
    if allowed:
        found.append(mail.model_copy(update={"allowed": allowed}) if mail else MailDestination(allowed=allowed))
    if form.hand_on:
        found.append(lane.model_copy(update={"lane": form.hand_on}) if lane else LaneDestination(lane=form.hand_on))
    return (*found, *(one for one in lane_settings.destinations if one not in (folder, mail, lane)))


def days_of(text: str) -> int | None:
    """A number of days as entered; None where nothing is. Raises NotDone."""
    typed = text.replace(" ", "").strip()
    if typed and not typed.isdecimal():
        raise NotDone(f"“{text[:40]}” is no number of days. Nothing was changed.")
    return int(typed) if typed else None


def form_of(lane_settings: LaneSettings, naming: str) -> LetterForm:
    """The settings as they stand in the dialogs; ``naming`` as the line that is typed."""
    rules, folder, mail, lane = (
        lane_settings.separation, lane_settings.folder, lane_settings.mail, lane_settings.next_lane,
    )  # fmt: skip
    bundles = rules.bundles.model_dump() if rules.bundles else {}
    document = rules.documents.model_dump()
    own = {name: value for name, value in document.items() if name in LetterForm.model_fields and name != "words"}
    if rules.documents.begin == "recognised":
        own["recognised_begins_with"] = own.pop("begins_with")
    return LetterForm.model_validate({
        **own,
        "words": "\n".join(document.get("words", ())),
        "symbology": next(iter(document.get("symbologies", ())), ""),
        "bundles": bundles.get("begin", ""),
        "bundles_begin_with": bundles.get("begins_with", ""),
        "blank_pages": rules.blank_pages,
        "sheets": rules.sheets,
        "goes_on": rules.goes_on,
        "type": lane_settings.type,
        "other_types": [used.key for used in lane_settings.other_types],
        "way": lane_settings.reading,
        **lane_settings.cleaning.model_dump(),
        "review_below": round(100 * lane_settings.review_below),
        "review_others_below": round(100 * lane_settings.review_others_below),
        "take_back_seconds": lane_settings.take_back_seconds,
        "learns": lane_settings.learns,
        "kept_days": str(lane_settings.kept_days or ""),
        "notes": lane_settings.notes,
        "naming": naming,
        "folder": folder.folder if folder else "",
        "csv": folder.csv if folder else "",
        "xlsx": folder.xlsx if folder else "",
        "mail_to": "\n".join(mail.allowed) if mail else "",
        "hand_on": lane.lane if lane else "",
    })  # fmt: skip


def where_it_goes(lane_settings: LaneSettings) -> dict[str, str]:
    """What the form has of destinations, as it is set."""
    form = form_of(lane_settings, "")
    return {name: getattr(form, name) for name in ("folder", "csv", "xlsx", "mail_to", "hand_on")}


def _addresses(text: str) -> Iterator[str]:
    for line in filter(None, map(str.strip, text.lower().splitlines())):
        user, at, domain = line.partition("@")
        if not at or not domain or any(c.isspace() or not c.isprintable() or c in "@,;<>" for c in user + domain):
            raise NotDone(f"“{line[:60]}” is no address, and no domain such as @example.org. Nothing was changed.")
        yield line


def _folder(text: str, allowed: Sequence[Path]) -> str:
    """A folder under the one for deliveries, or elsewhere if that is allowed. Raises NotDone."""
    if not text.startswith("/"):
        return _plain_name(text, "folder")
    if not is_allowed(Path(text), allowed):
        others = f": {', '.join(map(str, allowed))}" if allowed else " (none)"
        raise NotDone(
            f"{text} is not in one of the folders that the administrator allows{others}. Nothing was changed."
        )
    return text


def _plain_name(text: str, what: str) -> str:
    name = text.strip()
    extension = "" if what == "folder" else f".{what}"
    if not name or "/" in name or "\\" in name or name.startswith(".") or not name.isprintable() or len(name) > 100:
        raise NotDone("A name for a file or folder is needed, without / and not beginning with a dot.")
    return name if name.endswith(extension) else name + extension
