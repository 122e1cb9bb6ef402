"""The audit trail, and who is told that something changed."""

from __future__ import annotations

from typing import Any, Literal

from sqlmodel import Session

from zestpail.store.notices import changed
from zestpail.store.tables import Document, Event

Act = Literal[
    "secret_kept",
    "sample_added",
    "sample_removed",
    "sorting_samples_added",
    "starter_adopted",
    "type_begun",
    "type_imported",
    "type_published",
    "type_retired",
    "type_restored",
    "lane_begun",
    "lane_changed",
    "draft_changed",
    "draft_put_in_force",
    "draft_discarded",
    "token_made",
    "token_revoked",
    "person_added",
    "person_renamed",
    "person_password_set",
    "person_disabled",
    "person_enabled",
    "scan_begun",
    "scan_resumed",
    "scan_abandoned",
    "arrived",
    "unpacked",
    "file_opened",
    "file_refused",
    "document_split",
    "stack_split",
    "splits_approved",
    "page_read",
    "page_failed",
    "pages_changed",
    "pages_undone",
    "control_total_set",
    "needs_sorting",
    "sorted",
    "needs_review",
    "unreadable",
    "settled",
    "emptied",
    "review_opened",
    "review_taken_over",
    "review_left",
    "values_changed",
    "change_undone",
    "taken_back",
    "reopened",
    "delivery_removed",
    "delivery_dropped",
    "delivered",
    "delivered_to_all",
    "delivery_failed",
    "delivery_retried",
    "withdrawn",
    "call_fetched_again",
]
"""What can be noted, by its code."""

ACT_WORDS: dict[str, str] = {
    "secret_kept": "key kept",
    "sample_added": "sample added",
    "sample_removed": "sample removed",
    "sorting_samples_added": "samples to sort by added",
    "starter_adopted": "starter used",
    "type_begun": "type created",
    "type_imported": "type imported",
    "type_published": "type published",
    "type_retired": "type retired",
    "type_restored": "type restored",
    "lane_begun": "lane created",
    "lane_changed": "lane changed",
    "draft_changed": "settings changed",
    "draft_put_in_force": "settings activated",
    "draft_discarded": "changes discarded",
    "token_made": "token created",
    "token_revoked": "token revoked",
    "person_added": "person added",
    "person_renamed": "person renamed",
    "person_password_set": "password set",
    "person_disabled": "person disabled",
    "person_enabled": "person enabled",
    "scan_begun": "scan started",
    "scan_resumed": "scan resumed",
    "scan_abandoned": "scan discarded",
    "arrived": "arrived",
    "unpacked": "unpacked",
    "file_opened": "opened",
    "file_refused": "refused",
    "document_split": "split",
    "stack_split": "stack split",
    "splits_approved": "splits confirmed",
    "page_read": "page read",
    "page_failed": "page not read",
    "pages_changed": "pages changed",
    "pages_undone": "page changes undone",
    "control_total_set": "control total",
    "needs_sorting": "type or split in doubt",
    "sorted": "sorted",
    "needs_review": "needs review",
    "unreadable": "not readable",
    "settled": "settled",
    "emptied": "left without pages",
    "review_opened": "opened for review",
    "review_taken_over": "taken over",
    "review_left": "review left",
    "values_changed": "values changed",
    "change_undone": "change undone",
    "taken_back": "taken back to review",
    "reopened": "opened again to correct it",
    "delivery_removed": "removed at the destination",
    "delivery_dropped": "planned delivery dropped",
    "delivered": "delivered",
    "delivered_to_all": "delivered to all destinations",
    "delivery_failed": "delivery failed",
    "delivery_retried": "delivery retried",
    "withdrawn": "taken back after delivery",
    "call_fetched_again": "called for again",
}


def note(
    session: Session,
    what: Act,
    *,
    document: Document | None = None,
    batch_id: int | None = None,
    person_id: int | None = None,
    before: dict[str, Any] | None = None,
    after: dict[str, Any] | None = None,
) -> Event:
    """Add to the trail and tell those who look on."""
    event = Event(
        what=what,
        person_id=person_id,
        batch_id=document.batch_id if document else batch_id,
        document_id=document.id if document else None,
        before=before or {},
        after=after or {},
    )
    session.add(event)
    topics = ["today"]
    if event.batch_id:
        topics.append(f"batch {event.batch_id}")
    if document:
        topics.append(f"document {document.id}")
    changed(session, *topics)
    return event
