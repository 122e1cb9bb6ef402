"""The trail says what was done by a code; its words are for showing."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None

CODES = {
    "sample added": "sample_added",
    "sample removed": "sample_removed",
    "starter adopted": "starter_adopted",
    "type begun": "type_begun",
    "type imported": "type_imported",
    "type published": "type_published",
    "type retired": "type_retired",
    "type taken up again": "type_restored",
    "lane begun": "lane_begun",
    "lane changed": "lane_changed",
    "letter changed": "draft_changed",
    "letter put in force": "draft_put_in_force",
    "letter's draft discarded": "draft_discarded",
    "token made": "token_made",
    "token revoked": "token_revoked",
    "scan begun": "scan_begun",
    "scan goes on": "scan_resumed",
    "scan given up": "scan_abandoned",
    "arrived": "arrived",
    "unpacked": "unpacked",
    "opened": "file_opened",
    "refused": "file_refused",
    "cut": "document_split",
    "separated": "stack_split",
    "cuts found right": "splits_approved",
    "page read": "page_read",
    "page not read": "page_failed",
    "pages changed": "pages_changed",
    "pages as before": "pages_undone",
    "control total": "control_total_set",
    "asks for review": "needs_review",
    "not readable": "unreadable",
    "settled": "settled",
    "without pages": "emptied",
    "opened for review": "review_opened",
    "taken over": "review_taken_over",
    "left": "review_left",
    "changed": "values_changed",
    "undone": "change_undone",
    "taken back to review": "taken_back",
    "delivered": "delivered",
    "delivered to all": "delivered_to_all",
    "delivery failed": "delivery_failed",
    "delivery asked for again": "delivery_retried",
}
RENAMED = (("said", "message"), ("letter", "settings"))


def upgrade() -> None:
    for words, code in CODES.items():
        op.execute(sa.text("UPDATE event SET what = :code WHERE what = :words").bindparams(code=code, words=words))
    for column in ("before", "after"):
        for old, new in RENAMED:
            op.execute(
                f"UPDATE event SET {column} = {column} - '{old}' || jsonb_build_object('{new}', {column} -> '{old}') "
                f"WHERE jsonb_exists({column}, '{old}')"
            )


def downgrade() -> None:
    for column in ("before", "after"):
        for old, new in RENAMED:
            op.execute(
                f"UPDATE event SET {column} = {column} - '{new}' || jsonb_build_object('{old}', {column} -> '{new}') "
                f"WHERE jsonb_exists({column}, '{new}')"
            )
    for words, code in CODES.items():
        op.execute(sa.text("UPDATE event SET what = :words WHERE what = :code").bindparams(code=code, words=words))
