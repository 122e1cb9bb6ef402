"""What goes into which column: ties as data, what they leave open, and addresses that may be asked."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zestpail.delivery.columns import Columns, columns_of
from zestpail.delivery.mapping import Ties, faults_of, mapped
from zestpail.delivery.web import lies_in
from zestpail.standins.ledger import COLUMNS, wrong

THERE = columns_of(COLUMNS)
VALUES = {
    "seller": "Bight & Bollard Ltd", "number": "bb-20217", "date": "2026-06-01", "gross": "1190.00",
    "vessel": "Maren Tide",
}  # fmt: skip
TIES = Ties.model_validate({
    "ties": [
        {"column": "supplier", "value": {"source": "field", "key": "seller"}},
        {"column": "number", "value": {"source": "field", "key": "number", "written": "upper_case"}},
        {"column": "date", "value": {"source": "field", "key": "date"}},
        {"column": "total", "value": {"source": "field", "key": "gross"}},
        {"column": "currency", "value": {"source": "fixed", "always": "EUR"}},
        {"column": "text", "value": {"source": "joined", "pattern": "{vessel}: {number} {order}"}},
        {"column": "cost_centre", "value": {"source": "lookup", "key": "vessel", "entries": [["maren tide", "4100"]]}},
    ],
    "tables": [{"list_key": "lines", "table": "lines", "ties": [
        {"column": "text", "value": {"source": "field", "key": "description"}},
        {"column": "amount", "value": {"source": "field", "key": "amount"}},
    ]}],
})  # fmt: skip
ROWS = {"lines": [{"description": "Rope", "amount": "12.50"}, {"description": "Shackle", "amount": "3"}]}


def test_a_record_is_what_the_ties_say() -> None:
    made = mapped(TIES, THERE, VALUES, ROWS)
    assert made.problems == () and made.record == {
        "supplier": "Bight & Bollard Ltd", "number": "BB-20217", "date": "2026-06-01", "total": 1190, "currency": "EUR",
        "text": "Maren Tide: bb-20217", "cost_centre": "4100",
        "lines": [{"text": "Rope", "amount": 12.5}, {"text": "Shackle", "amount": 3}],
    }  # fmt: skip
    assert wrong(made.record) == ""
    names = {"seller": "Supplier", "number": "Invoice number", "vessel": "Vessel"}
    sentences = [tie.sentence(THERE.plain, names) for tie in TIES.ties]
    assert sentences[1] == "Voucher number is Invoice number, in capitals"
    assert sentences[4:] == [
        "Currency is always “EUR”", "Text is “[Vessel]: [Invoice number] [order]”",
        "Cost centre is by Vessel: 4100 for maren tide",
    ]  # fmt: skip


def test_what_does_not_fit_is_said_before_it_is_sent() -> None:
    made = mapped(
        TIES, THERE, {**VALUES, "seller": None, "date": "1 June", "gross": "12,50"}, {"lines": [{"amount": "x"}]}
    )
    assert made.problems == (
        "Supplier is required and is empty.", "Voucher date takes a date, and is “1 June”.",
        "Total takes a number, and is “12,50”.", "row 1 of Lines: Text is required and is empty.",
        "row 1 of Lines: Amount takes a number, and is “x”.",
    )  # fmt: skip
    left = faults_of(
        Ties(ties=TIES.ties[:2]), THERE.model_copy(update={"plain": THERE.plain[2:]}),
        {"seller": "Supplier", "gross": "Gross"},
    )  # fmt: skip
    assert left.not_tied == ("Voucher date", "Total") and left.gone == ("supplier",) and left.nowhere == ("Gross",)
    with pytest.raises(ValueError, match="describes no columns"):
        columns_of({"type": "string"})


@given(st.decimals(-999_999_999, 999_999_999, allow_nan=False, places=2))
def test_amounts_arrive_as_they_left(amount: object) -> None:
    columns = Columns(plain=tuple(one.model_copy(update={"required": False}) for one in THERE.plain))
    made = mapped(Ties(ties=(TIES.ties[3],)), columns, {"gross": str(amount)}, {})
    assert f"{made.record['total']:.2f}" == f"{amount:.2f}"


@pytest.mark.parametrize(("address", "may"), [
    ("http://ledger.example/api/vouchers", True), ("http://ledger.example:80/api", True),
    ("https://ledger.example/api", False), ("http://ledger.example.evil/api", False),
    ("http://ledger.example/apis", False), ("http://ledger.example/api/../admin", False),
    ("http://ledger.example/api/%2e%2e/admin", False), ("http://me@ledger.example/api", False),
    ("http://evil.example#http://ledger.example/api", False), ("file:///api", False), ("", False),
])  # fmt: skip
def test_only_addresses_that_are_allowed_are_asked(address: str, may: bool) -> None:
    assert lies_in(address, "http://ledger.example/api") is may
