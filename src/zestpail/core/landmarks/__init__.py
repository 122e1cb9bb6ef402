"""Named things on a page to measure from: pointed at on one sample, described here, found on every other page."""

from typing import Annotated

from pydantic import Field

from zestpail.core.landmarks.barcode import BarcodePlace
from zestpail.core.landmarks.blank import BlankStrip
from zestpail.core.landmarks.landmark import Landmark
from zestpail.core.landmarks.mark import MarkPlace
from zestpail.core.landmarks.match import LandmarkMatch
from zestpail.core.landmarks.printed import PrintedWords
from zestpail.core.landmarks.ruled import RuledLine

AnyLandmark = Annotated[
    PrintedWords | RuledLine | BarcodePlace | BlankStrip | MarkPlace, Field(discriminator="landmark")
]

__all__ = [
    "AnyLandmark",
    "BarcodePlace",
    "BlankStrip",
    "Landmark",
    "LandmarkMatch",
    "MarkPlace",
    "PrintedWords",
    "RuledLine",
]
