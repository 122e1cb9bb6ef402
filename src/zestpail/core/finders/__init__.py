"""Ways of finding a field. Each yields candidates with a score in named parts, never a bare yes or no."""

from typing import Annotated

from pydantic import Field

from zestpail.core.finders.beside_label import BesideLabel
from zestpail.core.finders.candidate import Candidate
from zestpail.core.finders.ground import Ground
from zestpail.core.finders.pattern import Pattern

AnyFinder = Annotated[BesideLabel | Pattern, Field(discriminator="finder")]

__all__ = ["AnyFinder", "BesideLabel", "Candidate", "Ground", "Pattern"]
