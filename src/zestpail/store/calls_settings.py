"""How another system begins a reading: it calls when a record of its own changes, and what is attached is read."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field


class CallsFrom(BaseModel):
    """The other system whose calls a lane takes."""

    model_config = ConfigDict(frozen=True)

    address: str = Field(min_length=1, max_length=500)
    """Where its records are asked for, as ``ADDRESS/ID``."""
    secret: str = ""
    """Name of the secret that is our key there; "" for none."""
    signed_with: str = ""
    """Name of the secret that its calls are signed with."""
    state: str = Field(default="", max_length=60)
    """The state of a record that begins a reading; "" for any call."""
