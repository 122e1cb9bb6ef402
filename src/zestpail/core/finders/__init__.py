"""Ways of finding a field. Each yields candidates with a score in named parts, never a bare yes or no."""

from typing import Annotated, get_args

from pydantic import Field

from zestpail.core.finders.area import Area
from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.context import SearchContext
from zestpail.core.finders.derived.computed import Computed
from zestpail.core.finders.derived.days_after import DaysAfter
from zestpail.core.finders.derived.of_country import OfCountry
from zestpail.core.finders.derived.remainder import Remainder
from zestpail.core.finders.derived.sum_of_several import SumOfSeveral
from zestpail.core.finders.embedded_data import EmbeddedData
from zestpail.core.finders.finder import Finder, Piece, TooSlow
from zestpail.core.finders.from_list import FromList
from zestpail.core.finders.inked.signed import Signed
from zestpail.core.finders.inked.ticked import Option, Ticked
from zestpail.core.finders.learned import Learned
from zestpail.core.finders.parties.party import Party
from zestpail.core.finders.payment.payment_code import PaymentCode
from zestpail.core.finders.printed.address_block import AddressBlock
from zestpail.core.finders.printed.beside_label import BesideLabel
from zestpail.core.finders.printed.beside_rate import BesideRate
from zestpail.core.finders.printed.expression import Expression
from zestpail.core.finders.printed.fixed_place import FixedPlace
from zestpail.core.finders.printed.foot_of_column import FootOfColumn
from zestpail.core.finders.printed.in_barcode import InBarcode
from zestpail.core.finders.printed.in_form_field import InFormField
from zestpail.core.finders.printed.pattern import Pattern
from zestpail.core.finders.printed.return_address import ReturnAddress
from zestpail.core.finders.printed.section import Section
from zestpail.core.finders.question import Question
from zestpail.core.finders.value_profile import ValueProfile

AnyFinder = Annotated[
    BesideLabel
    | BesideRate
    | Pattern
    | FixedPlace
    | FootOfColumn
    | InBarcode
    | InFormField
    | EmbeddedData
    | FromList
    | ReturnAddress
    | Expression
    | Section
    | Ticked
    | Signed
    | AddressBlock
    | Party
    | PaymentCode
    | SumOfSeveral
    | Remainder
    | DaysAfter
    | OfCountry
    | Computed
    | Question
    | Learned,
    Field(discriminator="finder"),
]

FINDER_TYPES: tuple[type[Finder], ...] = get_args(get_args(AnyFinder)[0])
"""In the order in which forms show them."""

__all__ = [
    "FINDER_TYPES",
    "AddressBlock",
    "AnyFinder",
    "Area",
    "BesideLabel",
    "BesideRate",
    "Candidate",
    "Computed",
    "DaysAfter",
    "EmbeddedData",
    "Expression",
    "Finder",
    "FixedPlace",
    "FootOfColumn",
    "FromList",
    "InBarcode",
    "InFormField",
    "Learned",
    "OfCountry",
    "Option",
    "Party",
    "Pattern",
    "PaymentCode",
    "Piece",
    "Question",
    "Remainder",
    "ReturnAddress",
    "SearchContext",
    "Section",
    "Signed",
    "SumOfSeveral",
    "Ticked",
    "TooSlow",
    "ValueProfile",
]
