"""Ways of finding a field. Each yields candidates with a score in named parts, never a bare yes or no."""

from typing import Annotated

from pydantic import Field

from zestpail.core.finders.address_block import AddressBlock
from zestpail.core.finders.area import Area
from zestpail.core.finders.beside_label import BesideLabel
from zestpail.core.finders.beside_rate import BesideRate
from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.computed import Computed
from zestpail.core.finders.days_after import DaysAfter
from zestpail.core.finders.expression import Expression, TooSlow
from zestpail.core.finders.finder import Finder, Piece
from zestpail.core.finders.fixed_place import FixedPlace
from zestpail.core.finders.ground import Ground
from zestpail.core.finders.in_barcode import InBarcode
from zestpail.core.finders.looks import Looks
from zestpail.core.finders.of_country import OfCountry
from zestpail.core.finders.pattern import Pattern
from zestpail.core.finders.remainder import Remainder
from zestpail.core.finders.section import Section
from zestpail.core.finders.several import SumOfSeveral
from zestpail.core.finders.signed import Signed
from zestpail.core.finders.ticked import Option, Ticked

AnyFinder = Annotated[
    BesideLabel
    | BesideRate
    | Pattern
    | FixedPlace
    | InBarcode
    | Expression
    | Section
    | Ticked
    | Signed
    | AddressBlock
    | SumOfSeveral
    | Remainder
    | DaysAfter
    | OfCountry
    | Computed,
    Field(discriminator="finder"),
]

__all__ = [
    "AddressBlock",
    "AnyFinder",
    "Area",
    "BesideLabel",
    "BesideRate",
    "Candidate",
    "Computed",
    "DaysAfter",
    "Expression",
    "Finder",
    "FixedPlace",
    "Ground",
    "InBarcode",
    "Looks",
    "OfCountry",
    "Option",
    "Pattern",
    "Piece",
    "Remainder",
    "Section",
    "Signed",
    "SumOfSeveral",
    "Ticked",
    "TooSlow",
]
