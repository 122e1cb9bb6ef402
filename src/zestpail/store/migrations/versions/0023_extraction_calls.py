"""Extractions that programs ask for, without a lane."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0023"
down_revision = "0022"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "extraction_call",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("token_id", sa.Integer(), nullable=False),
        sa.Column("type_key", sa.String(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("pages", JSONB(), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("state", sa.String(24), nullable=False),
        sa.Column("result", JSONB(), nullable=False),
        sa.Column("problem", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["token_id"], ["api_token.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.CheckConstraint("state IN ('waiting', 'done', 'failed')", name="callstate"),
    )
    for column in ("token_id", "state", "made_at"):
        op.create_index(f"ix_extraction_call_{column}", "extraction_call", [column])


def downgrade() -> None:
    op.drop_table("extraction_call")
