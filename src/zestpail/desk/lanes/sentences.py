"""The sentences of a lane's letter, and what a person should know of each."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from zestpail.core.reading.preparation.cleaning import CLEANING, Cleaning
from zestpail.core.separation import Separation
from zestpail.core.separation.rules import GOES_ON, KEPT_OR_NOT
from zestpail.core.writing.notes import NOTES_OUT
from zestpail.store.lane_settings import LEARNS, LaneSettings, TypeUsed
from zestpail.store.sorting_settings import LEARNING, SortedType


@dataclass(frozen=True)
class Line:
    """A sentence: pieces of plain words and of settings, in turn; and what a person should know of it."""

    part: str
    pieces: list[str]
    warnings: list[str]


def setting_lines(
    lane_settings: LaneSettings, names: dict[str, str], lanes: dict[str, str], naming: str, newest: dict[str, int]
) -> Iterator[Line]:
    """The sentences in their order.

    ``names`` are those of types and ``lanes`` those of other lanes, by key; ``naming`` is how files are named, and
    ``newest`` the newest published revision of each type.
    """
    rules = lane_settings.separation
    origin = [rules.bundles.sentence("a bundle")] if rules.bundles else []
    yield Line(
        "separation",
        ["When files are dropped on this lane, scanned, laid into its folder, or sent by e-mail or a program, ",
         "; ".join([*origin, rules.documents.sentence("a document")]),
         ". Blank pages are ", KEPT_OR_NOT[rules.blank_pages], ", sheets ", KEPT_OR_NOT[rules.sheets],
         "; documents continue ", GOES_ON[rules.goes_on], "."],
        list(_warnings(rules)),
    )  # fmt: skip
    used = [TypeUsed(key=lane_settings.type, revision=lane_settings.revision), *lane_settings.other_types]
    own, *named = [f"{names.get(one.key, one.key)}, revision {one.revision}" for one in used]
    others = "; ".join(named) or "no other"
    unnamed = (
        []
        if lane_settings.other_types or not any(rule.names_types for rule in rules.rules)
        else ["A sheet that names a type is not followed."]
    )
    if lane_settings.sorting and lane_settings.sorting.types:
        yield Line("types", list(_sorted_into(lane_settings, names)), list(_newer(used, names, newest)))
    else:
        untold = ["First pages are not recognised yet: show samples of its types in the sorting table."]
        recognised = untold if rules.documents.begin == "recognised" else []
        yield Line("types", ["Documents are of the type ", own, "; sheets may name ", others, "."],
                   [*unnamed, *recognised, *_newer(used, names, newest)])  # fmt: skip
    clean = lane_settings.cleaning
    yield Line(
        "reading",
        ["Turn scanned pages upright; they are ", CLEANING["skew"][clean.skew], ", dark borders ",
         CLEANING["borders"][clean.borders], ", punch holes ", CLEANING["holes"][clean.holes], ", specks ",
         CLEANING["specks"][clean.specks], ", colours ", _COLOURS[clean.colours], ". Read them in the ",
         f"{lane_settings.reading} way", "."],
        list(_cleaning_warnings(clean)),
    )  # fmt: skip
    yield Line(
        "review",
        ["Ask for review when a required value is less than ", f"{lane_settings.review_below:.0%}",
         " sure, another less than ", f"{lane_settings.review_others_below:.0%}", *_aim(lane_settings),
         ", or a check fails. A reviewed document waits ",
         f"{lane_settings.take_back_seconds} s", " before it goes. It becomes a sample of its type ",
         LEARNS[lane_settings.learns], "."],
        [],
    )  # fmt: skip
    yield Line("delivery", list(_delivery(lane_settings, lanes, naming)), [])
    days = lane_settings.kept_days
    yield Line(
        "keeping",
        ["Keep documents here ", f"for {days} days after they arrived" if days else "for good", "."],
        ["When their time is over they are shown as due; an administrator erases them." ] if days else [],
    )  # fmt: skip


def _sorted_into(lane_settings: LaneSettings, names: dict[str, str]) -> Iterator[str]:
    """The sentence of a lane that sorts; of single types it says only what differs."""
    sorting = lane_settings.sorting
    if sorting is None:
        return
    yield "Tell by its look what each document is: "
    yield "; ".join(f"{names.get(one.key, one.key)}{_differences(one)}" for one in sorting.types)
    yield ". Each is read as its own type. Those of none are "
    if sorting.unknown == "as_type":
        yield f"taken for {names.get(sorting.unknown_type, sorting.unknown_type)}"
    else:
        yield "held for a person"
    yield ". What somebody decides becomes a sample "
    yield LEARNING[sorting.learns]
    yield "."


def _differences(one: SortedType) -> str:
    parts = []
    if one.review_below is not None:
        parts.append(f"review required values below {one.review_below:.0%}")
    if one.review_others_below is not None:
        parts.append(f"other values below {one.review_others_below:.0%}")
    if one.destinations is not None:
        parts.append(f"goes to {' and '.join(one.destinations)}")
    return f" ({', '.join(parts)})" if parts else ""


def _newer(used: list[TypeUsed], names: dict[str, str], newest: dict[str, int]) -> Iterator[str]:
    for one in used:
        if newest.get(one.key, one.revision) > one.revision:
            published = f"Revision {newest[one.key]} of {names[one.key]} is published"
            yield f"{published}; this lane uses revision {one.revision}."


def _delivery(lane_settings: LaneSettings, lanes: dict[str, str], naming: str) -> Iterator[str]:
    folder, mail, lane = lane_settings.folder, lane_settings.mail, lane_settings.next_lane
    yield "File a searchable PDF as "
    yield naming
    yield " in "
    yield folder.folder if folder else "no folder"
    yield ", and add a row to "
    yield f"{folder.csv} and {folder.xlsx}" if folder and folder.csv else "no sheet"
    yield ". Notes and highlights are "
    yield NOTES_OUT[lane_settings.notes]
    yield ". Sheets may have documents sent to "
    yield ", ".join(mail.allowed) if mail and mail.allowed else "nobody"
    yield ". Hand what is delivered on to "
    yield lanes.get(lane.lane, lane.lane) if lane else "no other lane"
    others = [one.shown for one in lane_settings.destinations if one not in (folder, mail, lane)]
    yield f". It also goes {', '.join(others)}." if others else "."


def _warnings(rules: Separation) -> Iterator[str]:
    if rules.drops_blank_pages:
        yield "Blank pages belong to no document and are not delivered; they stay on the page ribbon."
    sheeted = [rule for rule in rules.rules if rule.has_sheets]
    if sheeted and rules.sheets == "left_out":
        yield "Sheets are not delivered; they stay on the page ribbon."
    if not sheeted and rules.sheets == "kept":
        yield "Nothing is cut at sheets, so keeping sheets has no effect."


_COLOURS = {"as_scanned": "as they were scanned", "grey": "made grey", "black_and_white": "made black and white"}


def _aim(lane_settings: LaneSettings) -> list[str]:
    aim = lane_settings.review_aim
    return [] if aim is None else [" so that at most ", f"{aim:g}", " of 1 000 delivered values are wrong"]


def _cleaning_warnings(wanted: Cleaning) -> Iterator[str]:
    if wanted.borders == "cut_off":
        yield "What lies in a dark border is cut off and not delivered; the file that arrived keeps it."
    if wanted.specks == "removed":
        yield "A dot of less than half a millimetre that stands alone is taken for a speck."
    if wanted.colours != "as_scanned":
        yield "Colours are not delivered; the file that arrived keeps them."
