"""Notes and highlights: a layer of their own over a page, which never touches its image by itself."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from zestpail.core.reading.preparation.edits import Place

NotesOut = Literal["kept", "annotations", "burnt_in"]
NOTES_OUT: dict[NotesOut, str] = {
    "kept": "kept here",
    "annotations": "put on the PDF as annotations",
    "burnt_in": "burnt into the PDF",
}


class Note(BaseModel):
    """Something noted at a place of a page; a highlight may say nothing."""

    model_config = ConfigDict(frozen=True)

    kind: Literal["note", "highlight"]
    place: Place
    """Where, in points of the page as it arrived."""
    text: str = Field(default="", max_length=1000)
    by: str = ""
