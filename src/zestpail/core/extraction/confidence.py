"""How sure we are of a value: found in the right place, and read rightly.

Confidence is the product of two probabilities. *Placed* grows with the candidate's score and its lead over the next
other value; *read* follows the engine's confidence in the least sure word. Amounts that add up prove both.
The curves are set by hand and looked at on the demo.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from zestpail.core.finders import Candidate
from zestpail.core.reading.legibility import read_rightly

PROVEN_PLACE, PROVEN_READING = 0.99, 0.99
"""What arithmetic that comes out leaves of doubt about place and reading; no proof is whole."""
AGREED, DISPUTED = 0.985, 0.7
"""How surely a value is read rightly that both readers read alike, or unlike."""
WELL_FORMED = 0.9
"""A shape below this lowers confidence: check figures that do not come out, repaired characters, no decimals."""
RIVALLED = 0.5
"""A rival with more than this part of what is left of the doubt is the reason for it."""
AMBIGUOUS = 0.85
"""What is left where nothing on the paper tells whether 03/04 is in March or in April."""
CONTRADICTED = 0.55
"""What is left of the confidence of a value that takes part in a failed sum."""


@dataclass(frozen=True)
class Confidence:
    """How sure, in [0, 1], and the weightiest reason not to be surer."""

    value: float
    doubt: str


def confidence_of(
    chosen: Candidate,
    rivals: Sequence[Candidate],
    sums: bool | None,
    own: float = 1.0,
    share: float = 0.0,
    ambiguous: bool = False,
) -> Confidence:
    """How sure we are; ``sums`` says whether arithmetic over the value holds, or None if there is none.

    ``own`` is how surely the value is no other field's, and ``share`` how likely it is among all that the field might
    have, each in [0, 1]; ``ambiguous`` says that what stands there may mean two things.
    What the judge says is calibrated already, what finders score is not.
    """
    strongest = max((c.score for c in rivals if c.value != chosen.value), default=0.0)
    lead = chosen.score / (chosen.score + strongest) if chosen.score else 0.0
    fits = 0.55 + 0.45 * min(chosen.score / 0.7, 1.0) ** 0.7
    leads = 1.0 if lead >= 0.6 else 0.5 + 0.5 * lead / 0.6
    if chosen.likely is not None:
        rivalled = strongest > RIVALLED * (1 - share)
        fits, leads = (1.0, share) if rivalled else (share, 1.0)
    read = read_rightly(chosen.confidence)
    if chosen.agreed is not None:
        read = max(read, AGREED) if chosen.agreed else min(read, DISPUTED)
    formed = min(chosen.parts.get("shape", 1.0) / WELL_FORMED, 1.0) if chosen.likely is None else 1.0
    if sums is True:
        read, formed, own = max(read, PROVEN_READING), 1.0, 1.0
        if chosen.likely is None:
            fits, leads = max(fits, PROVEN_PLACE), 1.0
    meant = AMBIGUOUS if ambiguous else 1.0
    proven = CONTRADICTED if sums is False else 1.0
    doubts = {
        "calculated, not read": chosen.most_sure,
        "a sum fails": proven,
        "two readings differ" if chosen.agreed is False else "the print is unclear": read,
        "unusual form": formed,
        "another place fits nearly as well": leads,
        "weak match": fits,
        "it may belong to another field": own,
        "day and month may be the other way round": meant,
    }
    return Confidence(
        round(fits * leads * read * formed * proven * own * chosen.most_sure * meant, 3),
        min(doubts, key=lambda doubt: doubts[doubt]),
    )
