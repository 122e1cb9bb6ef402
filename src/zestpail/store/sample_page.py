"""A page of a sample that types are told apart by: where its picture is kept, and its sketch."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from zestpail.core.classification.page_sketch import PageSketch


class SamplePage(BaseModel):
    """One page as it was read."""

    model_config = ConfigDict(frozen=True)

    thumbnail: str = ""
    reading: str = ""
    """Under which hash its reading is kept."""
    sketch: PageSketch
