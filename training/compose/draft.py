"""What is being laid out, and what of it is printed for certain."""

from __future__ import annotations

import random
from dataclasses import dataclass, field

from training.compose.bill import Bill
from training.compose.scribe import Scribe


@dataclass
class Draft:
    """What is being laid out."""

    lot: random.Random
    bill: Bill
    scribe: Scribe
    truth: dict[str, str | None] = field(default_factory=dict)
    notes: list[str] = field(default_factory=list)

    def chance(self, share: float) -> bool:
        return self.lot.random() < share

    def one(self, *choices: str) -> str:
        return self.lot.choice(choices)
