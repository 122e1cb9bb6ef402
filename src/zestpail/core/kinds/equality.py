"""When two values say the same."""

from __future__ import annotations

import re
from decimal import Decimal


def same(found: str | None, wanted: str | None) -> bool:
    """Whether two values say the same: case, blanks and the shapes of apostrophe and times sign do not count.

    Nor do zeros at the end of a decimal fraction: 1.50 is 1.5.
    """
    one, other = _folded(found), _folded(wanted)
    return one == other or ("." in one + other and _number(one) is not None and _number(one) == _number(other))


def _number(text: str) -> Decimal | None:
    return Decimal(text) if re.fullmatch(r"-?\d+(\.\d+)?", text) else None


def _folded(value: str | None) -> str:
    return "".join((value or "").casefold().replace("’", "'").replace("×", "x").split())
