"""What all checks share: they are data, they say themselves in a sentence, and they judge a document's values."""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import BaseModel, ConfigDict

from zestpail.core.checks.verdict import Named, Verdict


class Check(BaseModel):
    """A rule that values must satisfy."""

    model_config = ConfigDict(frozen=True)

    @property
    def touches(self) -> tuple[str, ...]:
        """The fields that it speaks of."""
        raise NotImplementedError

    @property
    def columns(self) -> tuple[tuple[str, str], ...]:
        """The columns that it speaks of, each with its table."""
        return ()

    def sentence(self, names: Mapping[str, str]) -> str:
        """The check as a person reads it, with the fields' names."""
        raise NotImplementedError

    def judge(self, document: Named) -> Verdict | None:
        """Whether the values satisfy it; None where it cannot be applied."""
        raise NotImplementedError


def lower(name: str) -> str:
    """A field's name within a sentence."""
    return name[:1].lower() + name[1:] if not name[:2].isupper() else name
