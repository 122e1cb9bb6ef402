"""Kinds of value: each spots itself on a line, parses, and says how it is shown."""

from typing import Annotated, get_args

from pydantic import Field

from zestpail.core.kinds.amount import Amount
from zestpail.core.kinds.code import Code, Number
from zestpail.core.kinds.contact import Email, Phone
from zestpail.core.kinds.currency import Currency
from zestpail.core.kinds.date import Date
from zestpail.core.kinds.kind import Span
from zestpail.core.kinds.names import Firm, Person
from zestpail.core.kinds.quantity import Percentage, Quantity
from zestpail.core.kinds.registered import Iban, VatNumber
from zestpail.core.kinds.style import Style, style_of
from zestpail.core.kinds.text import Block, OneLine, Paragraph, SeveralLines
from zestpail.core.kinds.time_of_day import Time
from zestpail.core.kinds.yes_no import Signature, Tick, YesNo

AnyKind = Annotated[
    Date
    | Time
    | Amount
    | Quantity
    | Percentage
    | Currency
    | Code
    | Number
    | Iban
    | VatNumber
    | Email
    | Phone
    | Firm
    | Person
    | OneLine
    | SeveralLines
    | Paragraph
    | YesNo
    | Tick
    | Signature,
    Field(discriminator="kind"),
]

KINDS: tuple[AnyKind, ...] = tuple(kind() for kind in get_args(get_args(AnyKind)[0]))
"""One of each, in the order in which they are listed."""
PROPOSED = tuple(sorted((kind for kind in KINDS if kind.proposal_rank), key=lambda kind: kind.proposal_rank))
"""Those that are tried for a text that a person points at, the narrowest first."""

__all__ = [
    "KINDS",
    "PROPOSED",
    "Amount",
    "AnyKind",
    "Block",
    "Code",
    "Currency",
    "Date",
    "Email",
    "Firm",
    "Iban",
    "Number",
    "OneLine",
    "Paragraph",
    "Percentage",
    "Person",
    "Phone",
    "Quantity",
    "SeveralLines",
    "Signature",
    "Span",
    "Style",
    "Tick",
    "Time",
    "VatNumber",
    "YesNo",
    "style_of",
]
