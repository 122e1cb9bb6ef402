"""Rules that values must satisfy, and what a failed one says."""

from typing import Annotated, get_args

from pydantic import Field

from zestpail.core.checks.agrees_with_list import AgreesWithList, InList
from zestpail.core.checks.agrees_with_order import AgreesWithOrder
from zestpail.core.checks.arithmetic import Arithmetic, Share
from zestpail.core.checks.as_before import AsBefore, NotScannedAgain, NotSentAgain, NotTenfold
from zestpail.core.checks.by_formula import ByFormula
from zestpail.core.checks.check import Check
from zestpail.core.checks.date_order import DateOrder
from zestpail.core.checks.delivered_before import NotDeliveredBefore
from zestpail.core.checks.if_then import Condition, IfThen
from zestpail.core.checks.limits import CheckDigits, Length, OneOf, Range, Shaped
from zestpail.core.checks.over_rows import ColumnSum, RowProduct, RunningBalance
from zestpail.core.checks.required import Required
from zestpail.core.checks.verdict import Before, DocumentValues, Offer, Verdict

AnyCheck = Annotated[
    Required
    | Arithmetic
    | DateOrder
    | Length
    | Range
    | OneOf
    | Shaped
    | CheckDigits
    | IfThen
    | NotDeliveredBefore
    | NotSentAgain
    | NotScannedAgain
    | AsBefore
    | NotTenfold
    | InList
    | AgreesWithList
    | AgreesWithOrder
    | ByFormula
    | RowProduct
    | RunningBalance
    | ColumnSum,
    Field(discriminator="check"),
]

CHECK_TYPES: tuple[type[Check], ...] = get_args(get_args(AnyCheck)[0])
"""In the order in which forms show them."""

__all__ = [
    "CHECK_TYPES",
    "AgreesWithList",
    "AgreesWithOrder",
    "AnyCheck",
    "Arithmetic",
    "AsBefore",
    "Before",
    "ByFormula",
    "Check",
    "CheckDigits",
    "ColumnSum",
    "Condition",
    "DateOrder",
    "DocumentValues",
    "IfThen",
    "InList",
    "Length",
    "NotDeliveredBefore",
    "NotScannedAgain",
    "NotSentAgain",
    "NotTenfold",
    "Offer",
    "OneOf",
    "Range",
    "Required",
    "RowProduct",
    "RunningBalance",
    "Shaped",
    "Share",
    "Verdict",
]
