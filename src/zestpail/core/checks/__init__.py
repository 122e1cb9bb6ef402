"""Rules that values must satisfy, and what a failed one says."""

from typing import Annotated

from pydantic import Field

from zestpail.core.checks.arithmetic import Arithmetic, Share
from zestpail.core.checks.date_order import DateOrder
from zestpail.core.checks.needed import Needed
from zestpail.core.checks.verdict import Named, Offer, Verdict

AnyCheck = Annotated[Needed | Arithmetic | DateOrder, Field(discriminator="check")]

__all__ = ["AnyCheck", "Arithmetic", "DateOrder", "Named", "Needed", "Offer", "Share", "Verdict"]
