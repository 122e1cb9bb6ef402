"""A barcode as a landmark."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from zestpail.core.landmarks.landmark import Landmark
from zestpail.core.landmarks.match import LandmarkMatch
from zestpail.core.reading.document import DocumentReading

OTHER_SYMBOLOGY = 0.5
"""What is left of the score of a barcode of another symbology."""


class BarcodePlace(Landmark):
    """A barcode, whatever it says."""

    landmark: Literal["barcode"] = "barcode"
    symbology: str
    alike: float = 0.3

    @property
    def sentence(self) -> str:
        """The landmark as a person reads it."""
        return f"a barcode ({self.symbology}) in the {self.reference.part} part of the page"

    def landmark_matches(self, document: DocumentReading) -> Iterator[LandmarkMatch]:
        """Every barcode, by its symbology and place."""
        for page, reading in enumerate(document.pages):
            for code in reading.barcodes:
                parts = {
                    "symbology": 1.0 if code.symbology == self.symbology else OTHER_SYMBOLOGY,
                    "place": self.near_reference(page, code.box),
                }
                yield LandmarkMatch(page=page, box=code.box, text=code.text, parts=parts)
