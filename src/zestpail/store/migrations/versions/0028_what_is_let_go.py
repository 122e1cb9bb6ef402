"""Files that are not needed any more, a row for each erased document, and indexes that tell what needs a file."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0028"
down_revision = "0027"
branch_labels = None
depends_on = None

PLANNED_FILES = (
    "jsonb_path_query_array(plan, "
    """'strict $.**?(@.type() == "string" && @ like_regex "^[0-9a-f]{64}$")'::jsonpath)"""
)
TOLD = "document, batch, type, arrived, pages, sha256, samples"
FILES = ("image", "thumbnail", "reading")


def upgrade() -> None:
    op.create_table(
        "gone_file",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("erased", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("name"),
    )
    op.create_table(
        "erased_document",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("erasure_id", sa.Integer(), sa.ForeignKey("erasure.id"), nullable=False),
        *(sa.Column(name, sa.Integer(), nullable=False) for name in ("document", "batch", "pages", "samples")),
        *(sa.Column(name, sa.String(), nullable=False) for name in ("type", "sha256")),
        sa.Column("arrived", sa.Date(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_erased_document_erasure_id", "erased_document", ["erasure_id"])
    op.execute(
        f"INSERT INTO erased_document (erasure_id, {TOLD}) SELECT erasure.id, {TOLD} FROM erasure, "  # noqa: S608
        "jsonb_to_recordset(erased) AS told (document int, batch int, type text, arrived date, pages int, "
        "sha256 text, samples int)"
    )
    op.drop_column("erasure", "erased")
    for name in FILES:
        op.create_index(f"ix_page_{name}", "page", [name], postgresql_using="hash")
    op.create_index("ix_delivery_files", "delivery", [sa.text(PLANNED_FILES)], postgresql_using="gin")
    op.create_index("ix_document_same_paper_id", "document", ["same_paper_id"])
    op.create_index("ix_taken_document_id", "taken", ["document_id"])
    op.create_index("ix_event_of_no_batch", "event", ["what"], postgresql_where=sa.text("batch_id IS NULL"))


def downgrade() -> None:
    op.drop_index("ix_event_of_no_batch", "event")
    op.drop_index("ix_taken_document_id", "taken")
    op.drop_index("ix_document_same_paper_id", "document")
    op.drop_index("ix_delivery_files", "delivery")
    for name in FILES:
        op.drop_index(f"ix_page_{name}", "page")
    op.add_column("erasure", sa.Column("erased", JSONB(), nullable=False, server_default="[]"))
    op.execute(
        "UPDATE erasure SET erased = (SELECT coalesce(jsonb_agg(to_jsonb(one) - 'id' - 'erasure_id'), '[]') "
        "FROM erased_document AS one WHERE erasure_id = erasure.id)"
    )
    op.alter_column("erasure", "erased", server_default=None)
    op.drop_table("erased_document")
    op.drop_table("gone_file")
