"""Control totals of a batch: what somebody counted and added up beforehand, held against what was captured."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.checks.over_rows import number


class ControlTotal(BaseModel):
    """How many documents there must be, and what a field of them makes together."""

    model_config = ConfigDict(frozen=True)

    documents: int | None = Field(default=None, ge=0, le=1_000_000)
    field: str = ""
    total: Decimal | None = None


def held_against(
    control: ControlTotal, documents: Sequence[Mapping[str, str | None]], names: Mapping[str, str]
) -> tuple[bool, str]:
    """Whether the captured documents come to the control total, and a sentence that says by how much they do not."""
    message: list[tuple[bool, str]] = []
    if control.documents is not None:
        count = len(documents)
        message.append((count == control.documents, f"{count} of {control.documents} documents"))
    if control.field and control.total is not None:
        values = [number(one.get(control.field)) for one in documents]
        found = sum((value for value in values if value is not None), Decimal(0))
        apart = found - control.total
        name = names.get(control.field, control.field)
        words = f"{name} makes {found:,.2f}"
        if apart:
            words += f", {abs(apart):,.2f} {'more' if apart > 0 else 'less'} than {control.total:,.2f}"
        lacking = sum(value is None for value in values)
        words += f"; {lacking} without it" if lacking else ""
        message.append((not apart and not lacking, words))
    return all(held for held, _ in message), "; ".join(words for _, words in message)
