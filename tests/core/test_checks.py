"""What failed checks say, and what they offer."""

from __future__ import annotations

from decimal import Decimal

import pytest
from pydantic import ValidationError

from zestpail.core.checks import (
    Arithmetic,
    Check,
    CheckDigits,
    Condition,
    DocumentValues,
    IfThen,
    Length,
    OneOf,
    Range,
    Required,
    Shaped,
)
from zestpail.core.checks.control_total import ControlTotal, held_against
from zestpail.core.checks.slips import likely_slip

NAMES = {"net": "Net", "tax": "VAT", "total": "Total"}
SUM = Arithmetic(add=("net", "tax"), equals="total")


def test_a_sum_that_fails_says_by_how_much_and_names_the_slip() -> None:
    verdict = SUM.judge(DocumentValues({"net": "1316.40", "tax": "263.28", "total": "1597.68"}, NAMES))
    assert verdict
    assert not verdict.passed
    assert verdict.message == "Net + VAT is 1,579.68, total says 1,597.68 (18.00 more). Two figures look swapped."
    assert [(o.field, o.value) for o in verdict.offers] == [("total", "1579.68")]


def test_a_sum_within_tolerance_passes_and_one_without_its_parts_says_nothing() -> None:
    passed = SUM.judge(DocumentValues({"net": "1.00", "tax": "0.20", "total": "1.21"}, NAMES))
    assert passed
    assert passed.passed
    assert SUM.judge(DocumentValues({"net": "1.00", "tax": None, "total": "1.21"}, NAMES)) is None


def test_a_part_that_is_more_than_the_whole_cannot_be_whatever_else_is_missing() -> None:
    verdict = SUM.judge(
        DocumentValues({"net": None, "tax": "1129.40", "total": "18.20"}, {"tax": "VAT", "total": "Total"})
    )
    assert verdict is not None and not verdict.passed
    assert verdict.message == "VAT 1,129.40 is more than total 18.20, which it is a part of."
    assert SUM.judge(DocumentValues({"net": "5.00", "tax": None, "total": "18.20"}, {})) is None
    assert SUM.judge(DocumentValues({"net": "-5.00", "tax": None, "total": "-18.20"}, {})) is None


def test_needed() -> None:
    verdict = Required(field="total").judge(DocumentValues({"total": None}, NAMES))
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


@pytest.mark.parametrize(
    ("check", "value", "details"),
    [
        (Length(field="no", least=4, most=6), "FD 17", "No is FD 17, 4 to 6 characters long."),
        (Length(field="no", most=6), "FD-20418", "No is FD-20418; it should be 0 to 6 characters long."),
        (Range(field="no", least="2", most="10"), "9.50", "No is 9.50, from 2 to 10."),
        (Range(field="no", least="2026-01-01"), "2025-12-31", "No is 2025-12-31; it should be at least 2026-01-01."),
        (OneOf(field="no", values=("Quillon", "Estrel")), "QUILLON", "No is QUILLON, one of Quillon, Estrel."),
        (Shaped(field="no", examples=("FD-123",)), "FD-12", "No is FD-12; it should be of the shape of FD-123."),
        (CheckDigits(field="no", of="ean"), "4006381333931", "No is 4006381333931, a valid EAN."),
        (CheckDigits(field="no", of="luhn"), "17", "No is 17; it should be a valid Luhn number."),
        (Length(field="no", least=4), None, None),
    ],
)
def test_a_value_by_itself(check: Check, value: str | None, details: str | None) -> None:
    verdict = check.judge(DocumentValues({"no": value}, {"no": "No"}))
    assert (verdict.message if verdict else None) == details
    assert verdict is None or verdict.passed == ("should be" not in verdict.message)
    assert check.sentence({"no": "No"}).startswith("No is ")


def test_if_this_then_that() -> None:
    state = Condition(field="goods", state="equals", values=("yes",))
    check = IfThen(when=state, then=Condition(field="class_no"))
    names = {"goods": "Dangerous goods", "class_no": "Class"}
    assert check.sentence(names) == "If dangerous goods is yes, then class is there."
    assert check.judge(DocumentValues({"goods": "no", "class_no": None}, names)) is None
    failed = check.judge(DocumentValues({"goods": "Yes", "class_no": None}, names))
    assert failed
    assert (failed.passed, failed.message) == (False, "As dangerous goods is yes, it should be that class is there.")


@pytest.mark.parametrize(
    ("kind", "settings", "details"),
    [
        (Length, {"least": 5, "most": 2}, "at least 5 and at most 2"),
        (Range, {"least": "10", "most": "9"}, "at least 10 and at most 9"),
        (Range, {}, "needs a least or a most"),
    ],
)
def test_limits_that_contradict_each_other_are_refused(
    kind: type[Check], settings: dict[str, object], details: str
) -> None:
    with pytest.raises(ValidationError, match=details):
        kind.model_validate({"field": "no", **settings})


def test_a_batch_is_held_against_what_somebody_added_up() -> None:
    batch = [{"total": "100.00"}, {"total": "20.50"}, {"total": None}]
    control = ControlTotal(documents=3, field="total", total=Decimal("130.50"))
    message = held_against(control, batch, {"total": "Total"})
    assert message == (False, "3 of 3 documents; Total makes 120.50, 10.00 less than 130.50; 1 without it")
    assert held_against(ControlTotal(documents=2), batch[:2], {}) == (True, "2 of 2 documents")
    whole = ControlTotal(field="total", total=Decimal("120.5"))
    assert held_against(whole, batch[:2], {"total": "Total"}) == (True, "Total makes 120.50")
