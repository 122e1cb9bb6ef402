"""Named things on a page to measure from: pointed at on one sample, described here, found on every other page."""

from typing import Annotated

from pydantic import Field

from zestpail.core.landmarks.printed import PrintedWords
from zestpail.core.landmarks.ruled import RuledLine
from zestpail.core.sighting import Sighting

AnyLandmark = Annotated[PrintedWords | RuledLine, Field(discriminator="landmark")]

__all__ = ["AnyLandmark", "PrintedWords", "RuledLine", "Sighting"]
