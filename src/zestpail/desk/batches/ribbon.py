"""The page ribbon: all pages of a batch as they lie, with the cuts between documents."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import groupby

from sqlmodel import Session, col, select

from zestpail.desk.batches.page_moves import CHANGEABLE, undoable
from zestpail.desk.documents.messages import Missing
from zestpail.desk.documents.transitions import WORDS
from zestpail.store import Store
from zestpail.store.queries.pages import pages_of_stack
from zestpail.store.states import FileState, PageState
from zestpail.store.tables import ArrivedFile, Batch, Document, Lane, Page, TypeRevision

FEW = 4
"""Pages of a stack that leaves room for others beside it."""


@dataclass(frozen=True)
class Tile:
    id: int
    number: int
    """Its place in the pile, from 1."""
    left_out: str
    state: str
    thumbnail: str
    """Changes with the picture."""
    edits: str
    """What a person did to it, in a few words."""


@dataclass(frozen=True)
class Stretch:
    """Pages that lie together and belong to one document, to none, or wait to be cut."""

    document_id: int | None
    title: str
    """What kind of document it is."""
    why: str
    standing: str
    open: bool
    """Whether it can still be changed."""
    goes_on: bool
    """Whether its document began further up and goes on here."""
    tiles: list[Tile]


@dataclass(frozen=True)
class StackView:
    file_id: int
    name: str
    problem: str | None
    waits_for_look: bool
    stretches: list[Stretch]

    @property
    def message(self) -> str:
        """How many pages went where."""
        documents = {s.document_id for s in self.stretches if s.document_id}
        out = sum(len(s.tiles) for s in self.stretches if s.document_id is None and s.tiles[0].left_out)
        pages = sum(len(s.tiles) for s in self.stretches)
        message = [(pages, "page"), (len(documents), "document"), (out, "page")]
        counts = [f"{count} {thing}{'' if count == 1 else 's'}" for count, thing in message]
        return f"{counts[0]}: {counts[1]}, {counts[2]} left out" if pages else "its pages lie elsewhere now"

    @property
    def brief(self) -> bool:
        """Whether it is a few pages without anything to be said: such stacks are shown beside each other."""
        pages = sum(len(stretch.tiles) for stretch in self.stretches)
        return 0 < pages <= FEW and not self.problem and not self.waits_for_look


@dataclass(frozen=True)
class RibbonView:
    batch_id: int
    lane_name: str
    stacks: list[StackView]
    undo: str
    """What undoing would take back; empty where there is nothing."""


def ribbon_view(store: Store, batch_id: int) -> RibbonView:
    """The ribbon of a batch. Raises Missing."""
    with store.transaction() as session:
        batch = session.get(Batch, batch_id)
        if batch is None:
            raise Missing("There is no such batch.")
        files = session.exec(select(ArrivedFile).where(ArrivedFile.batch_id == batch_id).order_by(col(ArrivedFile.id)))
        documents = {d.id: d for d in session.exec(select(Document).where(Document.batch_id == batch_id))}
        names = _type_names(session, documents.values())
        return RibbonView(
            batch_id=batch_id,
            lane_name=session.get_one(Lane, batch.lane_id).name,
            stacks=[_stack(session, file, documents, names) for file in files],
            undo=undoable(session, batch_id),
        )


def _type_names(session: Session, documents: Iterable[Document]) -> dict[int, str]:
    wanted = {document.revision_id for document in documents}
    found = session.exec(select(TypeRevision).where(col(TypeRevision.id).in_(wanted)))
    return {one.id or 0: str(one.body["name"]) for one in found}


def _stack(
    session: Session, file: ArrivedFile, documents: dict[int | None, Document], names: dict[int, str]
) -> StackView:
    pages, seen, stretches = pages_of_stack(session, file.id or 0), set[int | None](), []
    for number, lying in groupby(enumerate(pages, start=1), key=lambda at: (at[1].document_id, bool(at[1].left_out))):
        tiles = [_tile(at, page) for at, page in lying]
        document = documents.get(number[0])
        stretches.append(
            Stretch(
                document_id=number[0],
                title=names[document.revision_id] if document else "left out" if number[1] else "not split yet",
                why=document.origin.why if document else "",
                standing=WORDS[document.state] if document else "",
                open=document is None or document.state in CHANGEABLE,
                goes_on=number[0] in seen,
                tiles=tiles,
            )
        )
        seen |= {number[0]} if number[0] else set()
    return StackView(file.id or 0, file.name, file.problem, file.state == FileState.SPLIT, stretches)


def _tile(number: int, page: Page) -> Tile:
    state = page.state.value if page.state != PageState.READ else ""
    done = ["cropped"] if page.edits.crop else []
    done += ["blacked out"] if page.edits.blacked_out else []
    done += [f"{len(page.notes)} noted"] if page.notes else []
    return Tile(page.id or 0, number, page.left_out or "", state, (page.thumbnail or "")[:12], ", ".join(done))
