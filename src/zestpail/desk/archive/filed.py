"""Where documents were filed: the folders of a lane as a tree, a level at a time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from zestpail.desk.documents.messages import Missing
from zestpail.store import Store
from zestpail.store.queries.access import Closed, lane_id_of
from zestpail.store.queries.filed import files_in, folders_in

MOST = 500


@dataclass(frozen=True)
class Folder:
    name: str
    path: str
    documents: int


@dataclass(frozen=True)
class FiledDocument:
    id: int
    name: str


@dataclass(frozen=True)
class FolderView:
    """A folder: what is in it, and the folders that it is in."""

    above: list[tuple[str, str]]
    """Name and path of each, from the outermost."""
    folders: Sequence[Folder]
    documents: Sequence[FiledDocument]


def folder_view(store: Store, lane: str, path: str, closed: Closed = ()) -> FolderView:
    """The folder of that path (``2026/08``; "" for all of the lane). Raises Missing."""
    parts = [part for part in path.split("/") if part]
    with store.transaction() as session:
        lane_id = lane_id_of(session, lane)
        if lane_id is None or lane_id in closed:
            raise Missing("There is no such lane.")
        folders = [Folder(name, "/".join((*parts, name)), many) for name, many in folders_in(session, lane_id, parts)]
        documents = [FiledDocument(number, name) for number, name in files_in(session, lane_id, parts, MOST)]
    above = [(part, "/".join(parts[: at + 1])) for at, part in enumerate(parts)]
    return FolderView(above, folders, documents)
