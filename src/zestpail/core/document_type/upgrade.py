"""Document types of format 1, in which wordings stood for choices, as format 2 has them: codes.

Format 1 was written until November 2026. What is the author's own (names, labels, texts, keys of fields) is left alone:
only what the format itself gives a meaning is looked at, place by place.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

FORMAT_1, FORMAT_2 = "zestpail document type 1", "zestpail document type 2"

FINDERS = {
    "beside a label": "beside_label", "beside a rate": "beside_rate", "fixed place": "fixed_place",
    "regular expression": "regex", "address block": "address_block", "sum of several": "sum_of_several",
    "what the sum leaves": "remainder", "days after": "days_after", "currency of the country": "country_currency",
}  # fmt: skip
KINDS = {
    "e-mail": "email", "IBAN": "iban", "VAT number": "vat_number", "one line of text": "line", "several lines": "lines",
    "yes/no": "yes_no",
}  # fmt: skip
CHECKS = {
    "needed": "required", "arithmetic": "sum", "date order": "date_order", "one of": "one_of",
    "check figures": "check_digits", "if then": "if_then", "not delivered before": "not_delivered_before",
    "row product": "row_product", "running balance": "running_balance", "column sum": "column_sum",
}  # fmt: skip
LANDMARKS = {"printed words": "printed_words", "ruled line": "ruled_line", "blank strip": "blank_strip"}
BOUNDS = {"ruled line": "ruled_line", "blank strip": "blank_strip"}
PAGES = {"any page": "any", "the first page": "first", "the last page": "last"}
WHERE = {"the head of the first page": "head"}
PREFER = {
    "the first": "first", "the most frequent": "most_frequent", "the largest print": "largest_print",
    "the largest amount": "largest_amount",
}  # fmt: skip
WAYS = {"a part": "part", "fixed text": "fixed_text"}
PARTS = {
    "the first word": "first_word", "the last word": "last_word", "the first line": "first_line",
    "the last line": "last_line", "the other lines": "other_lines", "the figures": "figures", "the letters": "letters",
}  # fmt: skip
OPERATIONS = {"divided by": "divided_by"}
TRIES = {"in order": "in_order"}
FORMATS = {
    "as it is kept": "as_kept", "31.12.2026": "date_dots", "31/12/2026": "date_slashes",
    "12/31/2026": "date_month_first", "20261231": "date_compact", "1234,56": "decimal_comma",
    "1.234,56": "grouped_comma", "1,234.56": "grouped_point", "in capitals": "upper", "in small letters": "lower",
    "without blanks": "no_blanks",
}  # fmt: skip
STATES = {"is there": "present", "is empty": "empty", "is": "equals"}
NUMBERS = {"IBAN": "iban", "VAT number": "vat_number", "EAN": "ean", "Luhn number": "luhn"}
ROWS_BEGIN = {"text in a column": "column_text", "ruled line": "ruled_line", "every line": "every_line"}

Codes = Mapping[str, str]


def upgraded(body: Mapping[str, Any]) -> dict[str, Any]:
    """A document type of format 1 as one of format 2; what is not as it should be is left for the model to refuse."""
    new = dict(body) | {"format": FORMAT_2}
    for name, change in (("fields", _field), ("landmarks", _landmark), ("tables", _table), ("checks", _check)):
        if isinstance(body.get(name), list | tuple):
            new[name] = [change(one) if isinstance(one, Mapping) else one for one in body[name]]
    return new


def upgraded_grid(grid: Mapping[str, Any]) -> dict[str, Any]:
    """Column dividers that were kept for a layout."""
    return _renamed(grid, {"head": "header"})


def _field(old: Mapping[str, Any]) -> dict[str, Any]:
    new = _renamed(old, {"looks": "profile", "delivered_as": "export_as"})
    new |= _coded(new, {"tries": TRIES, "export_as": FORMATS})
    if isinstance(old.get("kind"), Mapping):
        new["kind"] = _kind(old["kind"])
    if isinstance(old.get("within"), Mapping):
        new["within"] = dict(old["within"]) | _coded(old["within"], {"pages": PAGES})
    if isinstance(old.get("finders"), list | tuple):
        new["finders"] = [_finder(one) if isinstance(one, Mapping) else one for one in old["finders"]]
    return new


def _kind(old: Mapping[str, Any]) -> dict[str, Any]:
    return dict(old) | _coded(old, {"kind": KINDS})


def _finder(old: Mapping[str, Any]) -> dict[str, Any]:
    new = dict(old) | _coded(old, {"finder": FINDERS})
    if old.get("finder") == "pattern":
        new |= _coded(old, {"where": WHERE, "prefer": PREFER})
    if isinstance(old.get("up_to"), list | tuple):
        new["up_to"] = [BOUNDS.get(one, one) for one in old["up_to"]]
    if isinstance(old.get("way"), Mapping):
        new["way"] = dict(old["way"]) | _coded(old["way"], {"how": WAYS, "part": PARTS, "operation": OPERATIONS})
    return new


def _landmark(old: Mapping[str, Any]) -> dict[str, Any]:
    new = _renamed(old, {"home": "reference"})
    return new | _coded(new, {"landmark": LANDMARKS})


def _table(old: Mapping[str, Any]) -> dict[str, Any]:
    new = dict(old)
    if isinstance(old.get("columns"), list | tuple):
        new["columns"] = [_column(one) if isinstance(one, Mapping) else one for one in old["columns"]]
    if isinstance(old.get("rows_begin"), Mapping):
        new["rows_begin"] = dict(old["rows_begin"]) | _coded(old["rows_begin"], {"by": ROWS_BEGIN})
    if isinstance(old.get("grids"), list | tuple):
        new["grids"] = [upgraded_grid(one) if isinstance(one, Mapping) else one for one in old["grids"]]
    return new


def _column(old: Mapping[str, Any]) -> dict[str, Any]:
    new = dict(old) | _coded(old, {"part": PARTS})
    if isinstance(old.get("kind"), Mapping):
        new["kind"] = _kind(old["kind"])
    return new


def _check(old: Mapping[str, Any]) -> dict[str, Any]:
    new = dict(old) | _coded(old, {"check": CHECKS})
    if old.get("check") == "check figures":
        new |= _coded(old, {"of": NUMBERS})
    if old.get("check") == "if then":
        for side in ("when", "then"):
            if isinstance(old.get(side), Mapping):
                new[side] = dict(old[side]) | _coded(old[side], {"state": STATES})
    return new


def _renamed(old: Mapping[str, Any], names: Codes) -> dict[str, Any]:
    return {names.get(key, key): value for key, value in old.items()}


def _coded(old: Mapping[str, Any], codes: Mapping[str, Codes]) -> dict[str, Any]:
    """Those of the entries that had a wording, with its code instead."""
    return {key: table[old[key]] for key, table in codes.items() if isinstance(old.get(key), str) and old[key] in table}
