"""What all landmarks share: they are data, they say themselves in a sentence, and they are found on scores."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.landmarks.match import LandmarkMatch, ReferencePosition
from zestpail.core.reading.document import DocumentReading
from zestpail.core.reading.geometry import Box

ANYWHERE = 0.54
"""Home's nearness at which a place is no longer where it was; below, a mark of no text is not it."""


class Landmark(BaseModel):
    """A named thing on the page; ``alike`` is its one dial, from forgiving to strict."""

    model_config = ConfigDict(frozen=True)

    key: str = Field(pattern=r"^[A-Za-z][A-Za-z0-9_]*$")
    alike: float = Field(default=0.45, ge=0.1, le=1)
    """How alike a place must be to count."""
    keeps_place: float = Field(default=1, ge=0, le=8)
    """How much it matters that it stands where it stood; 0 for not at all."""
    reference: ReferencePosition

    @property
    def sentence(self) -> str:
        """The landmark as a person reads it."""
        raise NotImplementedError

    def landmark_matches(self, document: DocumentReading) -> Iterator[LandmarkMatch]:
        """All places where it may stand, near misses too."""
        raise NotImplementedError

    def taken(self, match: LandmarkMatch) -> bool:
        """Whether a sighting is like enough to be taken."""
        return match.score >= self.alike

    def near_reference(self, page: int, box: Box) -> float:
        """How near a place is to home, from 1 down to 0: for marks that nothing but their place tells apart."""
        near = (self.reference.nearness(page, box) - ANYWHERE) / (1 - ANYWHERE)
        return float(round(max(near, 0.0) ** self.keeps_place, 3))
