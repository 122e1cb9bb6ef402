"""The same done to several pages of a batch at once: one change, undone in one step."""

from __future__ import annotations

from collections.abc import Sequence

from zestpail.desk.batches.page_edits import turned_by
from zestpail.desk.batches.page_moves import BY_HAND, Side, StackEdit, nearest, opened, read_again
from zestpail.desk.documents.messages import Missing, NotDone
from zestpail.store import Store
from zestpail.store.tables import Page


def leave_out_several(store: Store, page_ids: Sequence[int], person_id: int) -> str:
    """The pages belong to no document; those that do not already are let be. Raises Missing, NotDone."""
    with opened(store, page_ids[0], person_id, f"left out {len(page_ids)} pages") as stack:
        for page in _chosen(stack, page_ids):
            if page.document_id:
                page.document_id, page.left_out = None, BY_HAND
    return stack.details


def take_in_several(store: Store, page_ids: Sequence[int], person_id: int) -> str:
    """Each of the pages that belongs to no document belongs to the one before it, or after it. Raises NotDone."""
    with opened(store, page_ids[0], person_id, f"took {len(page_ids)} pages back in") as stack:
        for page in _chosen(stack, page_ids):
            if page.document_id:
                continue
            lying = stack.lying(page.stack_id)
            near = nearest(lying, lying.index(page))
            if near is None:
                raise NotDone("There is no document that they could belong to.")
            page.document_id, page.left_out = near.document_id, None
    return stack.details


def move_several(store: Store, page_ids: Sequence[int], target_id: int, side: Side, person_id: int) -> str:
    """Lay the pages, in their order, before or after another one, into its stack and document."""
    with opened(store, page_ids[0], person_id, f"moved {len(page_ids)} pages") as stack:
        moved = _chosen(stack, page_ids)
        others = [page for page in stack.pages if page not in moved]
        target = next((page for page in others if page.id == target_id), None)
        if target is None:
            raise NotDone("Drop them on another page of the batch.")
        lying = [page for page in stack.lying(target.stack_id) if page not in moved]
        near = nearest(lying, lying.index(target) + (side == "after"), target)
        if near is None and any(page.document_id for page in moved):
            raise NotDone("That stack has no document that the pages could belong to.")
        for page in moved:
            if page.document_id and near:
                page.document_id = near.document_id
        stack.lay(moved, others.index(target) + (side == "after"), target.stack_id)
    return stack.details


def turn_several(store: Store, page_ids: Sequence[int], degrees: int, person_id: int) -> str:
    """Turn the pages clockwise by 90, 180 or 270 degrees from how each stands, and read them anew."""
    with opened(store, page_ids[0], person_id, f"turned {len(page_ids)} pages") as stack:
        for page in _chosen(stack, page_ids):
            page.edits = turned_by(store, page, degrees)
            read_again(stack.session, page)
    return stack.details


def _chosen(stack: StackEdit, page_ids: Sequence[int]) -> list[Page]:
    """The pages of these numbers as they lie. Raises Missing where one is not of the batch."""
    wanted = set(page_ids)
    chosen = [page for page in stack.pages if page.id in wanted]
    if len(chosen) < len(wanted):
        raise Missing("There is no such page in this batch.")
    for stack_id in {page.stack_id for page in chosen}:
        stack.lying(stack_id)  # raises where it is not split yet
    return chosen
