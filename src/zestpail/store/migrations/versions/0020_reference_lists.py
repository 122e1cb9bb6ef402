"""Reference lists, their revisions and rows, other names of entries, and which entry a document speaks of."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import ARRAY, JSONB

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("CREATE EXTENSION IF NOT EXISTS pg_trgm")
    op.create_table(
        "reference_list",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("model", JSONB(), nullable=False),
        sa.Column("asked", JSONB(), nullable=False),
        sa.Column("state", sa.String(24), nullable=False),
        sa.Column("problem", sa.String(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("rows", sa.Integer(), nullable=False),
        sa.Column("waiting", sa.String(), nullable=False),
        sa.Column("waiting_name", sa.String(), nullable=False),
        sa.Column("accepted", sa.Boolean(), nullable=False),
        sa.Column("stale", sa.Boolean(), nullable=False),
        sa.Column("next_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("key"),
        sa.CheckConstraint("state IN ('reading', 'ready', 'held', 'failed')", name="liststate"),
    )
    op.create_index("ix_reference_list_state", "reference_list", ["state"])
    op.create_table(
        "list_revision",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("list_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("source", sa.String(), nullable=False),
        sa.Column("blob", sa.String(), nullable=False),
        sa.Column("told", sa.String(), nullable=False),
        sa.Column("rows", sa.Integer(), nullable=False),
        sa.Column("added", sa.Integer(), nullable=False),
        sa.Column("changed", sa.Integer(), nullable=False),
        sa.Column("gone", sa.Integer(), nullable=False),
        sa.Column("faults", JSONB(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["list_id"], ["reference_list.id"]),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("list_id", "number"),
    )
    op.create_index("ix_list_revision_list_id", "list_revision", ["list_id"])
    op.create_index("ix_list_revision_at", "list_revision", ["at"])
    op.create_table(
        "list_row",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("list_id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("values", JSONB(), nullable=False),
        sa.Column("digest", sa.String(), nullable=False),
        sa.Column("names", sa.String(), nullable=False),
        sa.Column("tokens", ARRAY(sa.String()), nullable=False),
        sa.Column("since", sa.Integer(), nullable=False),
        sa.Column("until", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["list_id"], ["reference_list.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    holds = sa.text("until IS NULL")
    op.create_index("ix_list_row_key", "list_row", ["list_id", "key"])
    op.create_index("ix_list_row_tokens", "list_row", ["tokens"], postgresql_using="gin", postgresql_where=holds)
    op.create_index(
        "ix_list_row_names",
        "list_row",
        ["names"],
        postgresql_using="gin",
        postgresql_where=holds,
        postgresql_ops={"names": "gin_trgm_ops"},
    )
    op.create_table(
        "list_alias",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("list_id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("says", sa.String(), nullable=False),
        sa.Column("text", sa.String(), nullable=False),
        sa.Column("token", sa.String(), nullable=False),
        sa.Column("document_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["document_id"], ["document.id"]),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["list_id"], ["reference_list.id"]),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("list_id", "key", "says", "text"),
    )
    op.create_index("ix_list_alias_list_id", "list_alias", ["list_id"])
    op.create_index("ix_list_alias_document_id", "list_alias", ["document_id"])
    op.create_index("ix_list_alias_token", "list_alias", ["token"])
    op.create_index("ix_list_alias_at", "list_alias", ["at"])
    op.create_table(
        "document_entry",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("document_id", sa.Integer(), nullable=False),
        sa.Column("list", sa.String(), nullable=False),
        sa.Column("entry", sa.String(), nullable=True),
        sa.Column("found", JSONB(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["document_id"], ["document.id"]),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("document_id", "list"),
    )
    op.create_index("ix_document_entry_document_id", "document_entry", ["document_id"])
    op.create_index("ix_document_entry_used", "document_entry", ["list", "entry"])


def downgrade() -> None:
    for table in ("document_entry", "list_alias", "list_row", "list_revision", "reference_list"):
        op.drop_table(table)
