"""Rows of tables, and column dividers that a reviewer moved, remembered by layout."""

import sqlalchemy as sa
import sqlmodel
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    text, json = sqlmodel.sql.sqltypes.AutoString, postgresql.JSONB()
    op.create_table(
        "table_row",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("document_id", sa.Integer(), sa.ForeignKey("document.id"), nullable=False),
        sa.Column("table", text(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("page", sa.Integer(), nullable=True),
        sa.Column("box", json, nullable=False),
        sa.Column("cells", json, nullable=False),
        sa.Column("state", sa.Enum("doubtful", "settled", name="valuestate", native_enum=False, length=24,
                                   create_constraint=True), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )  # fmt: skip
    op.create_index(op.f("ix_table_row_document_id"), "table_row", ["document_id"])
    op.create_index(op.f("ix_table_row_state"), "table_row", ["state"])
    op.create_table(
        "moved_dividers",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("type_key", text(), nullable=False),
        sa.Column("table", text(), nullable=False),
        sa.Column("head", text(), nullable=False),
        sa.Column("grid", json, nullable=False),
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("type_key", "table", "head"),
    )
    op.create_index(op.f("ix_moved_dividers_type_key"), "moved_dividers", ["type_key"])
    op.add_column("document", sa.Column("tables", json, server_default=sa.text("'{}'::jsonb"), nullable=False))
    op.alter_column("document", "tables", server_default=None)


def downgrade() -> None:
    op.drop_column("document", "tables")
    op.drop_table("moved_dividers")
    op.drop_table("table_row")
