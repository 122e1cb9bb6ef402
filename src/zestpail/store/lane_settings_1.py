"""Lane settings of format 1, in which wordings stood for choices and one folder for all destinations, as format 2."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

FORMAT_1, FORMAT_2 = "zestpail lane 1", "zestpail lane 2"

BEGINNINGS = {
    "each file": "each_file", "every so many pages": "every_pages", "at a barcode": "barcode",
    "at a printed sheet": "printed_sheet", "at a blank page": "blank_page", "at words": "words",
}  # fmt: skip
PLACES = {"the first page": "first_page", "a sheet of its own": "own_sheet"}
KEPT = {"left out": "left_out"}
GOES_ON = {"at once": "at_once", "when a person has looked at the cuts": "after_look"}
CLEANING = {
    "left crooked": "left_crooked", "cut off": "cut_off", "as scanned": "as_scanned",
    "black and white": "black_and_white",
}  # fmt: skip
NOTES = {"kept here": "kept", "put on the PDF as annotations": "annotations", "burnt into the PDF": "burnt_in"}
TABLES = {"added to one sheet": "one_sheet", "a sheet for each document": "own_sheet", "not at all": "none"}


def upgraded(body: Mapping[str, Any]) -> dict[str, Any]:
    """Settings of format 1 as format 2 has them."""
    gone = ("folder", "csv", "xlsx", "rows", "mail_to", "hand_on")
    new = {key: value for key, value in body.items() if key not in gone} | {"format": FORMAT_2}
    if "separation" in body:
        new["separation"] = _separation(body["separation"])
    if "cleaning" in body:
        new["cleaning"] = {key: CLEANING.get(value, value) for key, value in body["cleaning"].items()}
    new["notes"] = NOTES.get(body.get("notes", "kept here"), "kept")
    new["naming"] = {
        "folders": [[_part(part) for part in level] for level in body["naming"].get("folders", ())],
        "file": [_part(part) for part in body["naming"]["file"]],
    }
    new["destinations"] = _destinations(body)
    return new


def _separation(old: Mapping[str, Any]) -> dict[str, Any]:
    new = dict(old)
    for name in ("bundles", "documents"):
        rule = old.get(name)
        if rule:
            new[name] = dict(rule) | {"begin": BEGINNINGS.get(rule["begin"], rule["begin"])}
            if "on" in rule:
                new[name]["on"] = PLACES.get(rule["on"], rule["on"])
    for name, codes in (("blank_pages", KEPT), ("sheets", KEPT), ("goes_on", GOES_ON)):
        if name in old:
            new[name] = codes.get(old[name], old[name])
    return new


def _part(old: Mapping[str, Any]) -> dict[str, Any]:
    return dict(old) | ({"part": "date"} if old["part"] == "date as" else {})


def _destinations(body: Mapping[str, Any]) -> list[dict[str, Any]]:
    tables = [dict(one) | {"way": TABLES.get(one.get("way", ""), "one_sheet")} for one in body.get("rows", ())]
    files = {name: body[name] for name in ("folder", "csv", "xlsx")}
    found: list[dict[str, Any]] = [{"destination": "folder", "id": "folder", **files, "tables": tables}]
    if body.get("mail_to"):
        found.append({"destination": "mail", "id": "mail", "allowed": body["mail_to"]})
    if body.get("hand_on"):
        found.append({"destination": "lane", "id": "lane", "lane": body["hand_on"]})
    return found
