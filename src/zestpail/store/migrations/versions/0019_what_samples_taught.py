"""What samples taught document types, and the learnings that drafts and revisions go by."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "learned_body",
        sa.Column("digest", sa.String(), nullable=False),
        sa.Column("body", JSONB(), nullable=False),
        sa.PrimaryKeyConstraint("digest"),
    )
    op.create_table(
        "type_learning",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("type_key", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("digest", sa.String(), nullable=False),
        sa.Column("samples", JSONB(), nullable=False),
        sa.Column("layouts", sa.Integer(), nullable=False),
        sa.Column("faults", JSONB(), nullable=False),
        sa.Column("learned_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("type_key", "number"),
    )
    op.create_index("ix_type_learning_type_key", "type_learning", ["type_key"])
    op.create_index("ix_type_learning_learned_at", "type_learning", ["learned_at"])
    op.add_column("sample", sa.Column("thrown", JSONB(), nullable=False, server_default="[]"))
    op.alter_column("sample", "thrown", server_default=None)
    op.add_column("sample", sa.Column("document_id", sa.Integer(), nullable=True))
    op.create_foreign_key("sample_document_id_fkey", "sample", "document", ["document_id"], ["id"])
    op.create_index("ix_sample_document_id", "sample", ["document_id"])
    for table in ("type_draft", "type_revision"):
        op.add_column(table, sa.Column("learned", sa.String(), nullable=False, server_default=""))
        op.alter_column(table, "learned", server_default=None)


def downgrade() -> None:
    op.drop_column("sample", "document_id")
    op.drop_column("sample", "thrown")
    for table in ("type_revision", "type_draft"):
        op.drop_column(table, "learned")
    op.drop_table("type_learning")
    op.drop_table("learned_body")
