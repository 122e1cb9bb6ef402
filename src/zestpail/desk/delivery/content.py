"""What a delivery is made of, as digests: whether what was planned is still what is in force."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from sqlmodel import Session

from zestpail.delivery import AnyDestination
from zestpail.store.lane_settings import LaneSettings
from zestpail.store.queries.documents import pages_of, rows_of, values_of
from zestpail.store.tables import Document


def content_of(session: Session, document: Document) -> str:
    """Digest of values, rows and pages, with what is blacked out or noted on them, as they stand now."""
    document_id = document.id or 0
    return _digest(
        document.revision_id,
        document.origin.model_dump(mode="json", include={"given", "mail"}),
        [(value.key, value.value) for value in values_of(session, document_id)],
        [(row.table, {key: cell["value"] for key, cell in row.cells.items()}) for row in rows_of(session, document_id)],
        [
            (
                page.image,
                page.reading,
                page.edits.model_dump(mode="json"),
                [n.model_dump(mode="json") for n in page.notes],
            )
            for page in pages_of(session, document_id)
        ],
    )


def terms_of(lane_settings: LaneSettings, destination: AnyDestination) -> str:
    """Digest of the settings of the lane that say what is written at a destination, and where."""
    naming, notes = lane_settings.naming.model_dump(mode="json"), lane_settings.notes
    return _digest(naming, notes, destination.model_dump(mode="json"))


def _digest(*parts: Any) -> str:
    return hashlib.sha256(json.dumps(parts, sort_keys=True, ensure_ascii=False).encode("utf-8", "replace")).hexdigest()
