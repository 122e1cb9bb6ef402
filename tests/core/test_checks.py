"""What failed checks say, and what they offer."""

from __future__ import annotations

from decimal import Decimal

import pytest

from zestpail.core.checks import Arithmetic, Named, Needed
from zestpail.core.checks.slips import likely_slip

NAMES = {"net": "Net", "tax": "VAT", "total": "Total"}
SUM = Arithmetic(add=("net", "tax"), equals="total")


def test_a_sum_that_fails_says_by_how_much_and_names_the_slip() -> None:
    verdict = SUM.judge(Named({"net": "1316.40", "tax": "263.28", "total": "1597.68"}, NAMES))
    assert verdict
    assert not verdict.passed
    assert verdict.message == "Net + VAT is 1,579.68, total says 1,597.68 (18.00 more). Two figures look swapped."
    assert [(o.field, o.value) for o in verdict.offers] == [("total", "1579.68")]


def test_a_sum_within_tolerance_passes_and_one_without_its_parts_says_nothing() -> None:
    passed = SUM.judge(Named({"net": "1.00", "tax": "0.20", "total": "1.21"}, NAMES))
    assert passed
    assert passed.passed
    assert SUM.judge(Named({"net": "1.00", "tax": None, "total": "1.21"}, NAMES)) is None


def test_needed() -> None:
    verdict = Needed(field="total").judge(Named({"total": None}, NAMES))
    assert verdict
    assert (verdict.passed, verdict.message) == (False, "Total is needed and was not found.")


@pytest.mark.parametrize(
    ("stated", "expected", "slip"),
    [
        ("1597.68", "1579.68", "Two figures look swapped."),
        ("1579.68", "1579.63", "One figure is off: 8 for 3."),
        ("15796.80", "1579.68", "The decimal point looks misplaced."),
        ("-5.00", "5.00", "The sign is the other way round."),
        ("17.00", "1579.68", ""),
    ],
)
def test_slips(stated: str, expected: str, slip: str) -> None:
    assert likely_slip(Decimal(stated), Decimal(expected)) == slip
