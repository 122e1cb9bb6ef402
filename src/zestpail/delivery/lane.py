"""Another lane as a destination: what is delivered here arrives there."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from pathlib import PurePosixPath
from typing import ClassVar, Literal

from pydantic import Field

from zestpail.core.writing.file_names import compose, of_version
from zestpail.delivery.destination import Destination, Outgoing, Outlets, Plan, Receipt, Shown
from zestpail.delivery.filing import of_kind


class LanePlan(Plan):
    """The document for one lane."""

    destination: Literal["lane"] = "lane"
    lane: str
    name: str
    channel: str


class LaneDestination(Destination):
    """The lane of that key."""

    title: ClassVar[str] = "to another lane"
    destination: Literal["lane"] = "lane"
    lane: str = Field(min_length=1)

    @property
    def shown(self) -> str:
        return f"to the lane {self.lane}"

    def shown_of(self, document: Outgoing) -> Shown:
        return Shown(self.shown, (compose(document.naming, document.named, document.counter, "pdf").name,))

    def plan(
        self,
        document: Outgoing,
        is_taken: Callable[[str, PurePosixPath], bool],  # noqa: ARG002 - names may be the same there
        outlets: Outlets,  # noqa: ARG002
    ) -> LanePlan:
        """Every document."""
        name = of_version(compose(document.naming, document.named, document.counter, "pdf"), document.version).name
        return LanePlan(
            reference=document.reference, pdf=document.pdf, version=document.version, lane=self.lane, name=name,
            channel=f"lane {document.lane}",
        )  # fmt: skip

    def send(self, plan: Plan, outlets: Outlets) -> Receipt:
        """It arrives there once, however often it is sent."""
        plan, pdf = of_kind(plan, LanePlan), outlets.kept(plan.pdf)
        identity = f"{plan.reference} version {plan.version} {plan.pdf[:32]}"
        batch = outlets.hand_on(plan.lane, plan.name, pdf, plan.channel, identity)
        return Receipt(
            reference=plan.reference, version=plan.version, bytes=len(pdf), sha256=hashlib.sha256(pdf).hexdigest(),
            handed_on=batch,
        )  # fmt: skip
