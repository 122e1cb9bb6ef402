"""Rules that values must satisfy, and what a failed one says."""

from typing import Annotated

from pydantic import Field

from zestpail.core.checks.arithmetic import Arithmetic, Share
from zestpail.core.checks.by_formula import ByFormula
from zestpail.core.checks.check import Check
from zestpail.core.checks.date_order import DateOrder
from zestpail.core.checks.delivered_before import NotDeliveredBefore
from zestpail.core.checks.if_then import Condition, IfThen
from zestpail.core.checks.limits import CheckFigures, Length, OneOf, Range, Shaped
from zestpail.core.checks.over_rows import ColumnSum, RowProduct, RunningBalance
from zestpail.core.checks.required import Needed
from zestpail.core.checks.verdict import Before, Named, Offer, Verdict

AnyCheck = Annotated[
    Needed
    | Arithmetic
    | DateOrder
    | Length
    | Range
    | OneOf
    | Shaped
    | CheckFigures
    | IfThen
    | NotDeliveredBefore
    | ByFormula
    | RowProduct
    | RunningBalance
    | ColumnSum,
    Field(discriminator="check"),
]

__all__ = [
    "AnyCheck",
    "Arithmetic",
    "Before",
    "ByFormula",
    "Check",
    "CheckFigures",
    "ColumnSum",
    "Condition",
    "DateOrder",
    "IfThen",
    "Length",
    "Named",
    "Needed",
    "NotDeliveredBefore",
    "Offer",
    "OneOf",
    "Range",
    "RowProduct",
    "RunningBalance",
    "Shaped",
    "Share",
    "Verdict",
]
