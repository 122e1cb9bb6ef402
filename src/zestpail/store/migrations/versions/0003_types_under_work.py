"""Document types under work: drafts with their steps, samples, and what is known of a revision."""

import sqlalchemy as sa
import sqlmodel
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    text, moment, json = sqlmodel.sql.sqltypes.AutoString, sa.DateTime(timezone=True), postgresql.JSONB()
    op.create_table(
        "type_draft",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("key", text(), nullable=False),
        sa.Column("body", json, nullable=False),
        sa.Column("based_on", sa.Integer(), nullable=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("changed_at", moment, nullable=False),
        sa.Column("retired_at", moment, nullable=True),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_type_draft_changed_at"), "type_draft", ["changed_at"])
    op.create_index(op.f("ix_type_draft_key"), "type_draft", ["key"], unique=True)
    op.create_table(
        "draft_step",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("draft_id", sa.Integer(), sa.ForeignKey("type_draft.id"), nullable=False),
        sa.Column("before", json, nullable=False),
        sa.Column("said", text(), nullable=False),
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("at", moment, nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_draft_step_at"), "draft_step", ["at"])
    op.create_index(op.f("ix_draft_step_draft_id"), "draft_step", ["draft_id"])
    op.create_table(
        "sample",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("type_key", text(), nullable=False),
        sa.Column("name", text(), nullable=False),
        sa.Column("blob", text(), nullable=False),
        sa.Column("state", sa.Enum("waiting", "ready", "refused", name="samplestate", native_enum=False, length=24,
                                   create_constraint=True), nullable=False),
        sa.Column("problem", text(), nullable=True),
        sa.Column("role", sa.Enum("training", "test", name="samplerole", native_enum=False, length=24,
                                  create_constraint=True), nullable=False),
        sa.Column("truth", json, nullable=False),
        sa.Column("added_at", moment, nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )  # fmt: skip
    for column in ("added_at", "role", "state", "type_key"):
        op.create_index(op.f(f"ix_sample_{column}"), "sample", [column])
    op.add_column("page", sa.Column("sample_id", sa.Integer(), sa.ForeignKey("sample.id"), nullable=True))
    op.create_index(op.f("ix_page_sample_id"), "page", ["sample_id"])
    op.alter_column("page", "document_id", nullable=True)
    op.alter_column("page", "file_id", nullable=True)
    op.add_column("type_revision", sa.Column("note", text(), server_default="", nullable=False))
    op.alter_column("type_revision", "note", server_default=None)
    op.add_column("type_revision", sa.Column("published_at", moment, server_default=sa.func.now(), nullable=False))
    op.alter_column("type_revision", "published_at", server_default=None)
    op.add_column("type_revision", sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True))
    op.create_index(op.f("ix_type_revision_published_at"), "type_revision", ["published_at"])


def downgrade() -> None:
    op.drop_index(op.f("ix_type_revision_published_at"), "type_revision")
    for column in ("note", "published_at", "person_id"):
        op.drop_column("type_revision", column)
    op.execute("DELETE FROM page WHERE sample_id IS NOT NULL")
    op.drop_column("page", "sample_id")
    op.alter_column("page", "document_id", nullable=False)
    op.alter_column("page", "file_id", nullable=False)
    for table in ("sample", "draft_step", "type_draft"):
        op.drop_table(table)
