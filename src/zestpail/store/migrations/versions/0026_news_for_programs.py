"""What programs are told of, the addresses that are called, and what programs took."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0026"
down_revision = "0025"
branch_labels = None
depends_on = None

WHEN = sa.DateTime(timezone=True)


def upgrade() -> None:
    op.create_table(
        "news",
        sa.Column("id", sa.BigInteger(), autoincrement=True, nullable=False),
        sa.Column("seq", sa.BigInteger(), nullable=True),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("at", WHEN, nullable=False),
        sa.Column("lane_id", sa.Integer(), nullable=True),
        sa.Column("batch_id", sa.Integer(), nullable=True),
        sa.Column("document_id", sa.Integer(), nullable=True),
        sa.Column("job_id", sa.Integer(), nullable=True),
        sa.Column("token_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["lane_id"], ["lane.id"]),
        sa.ForeignKeyConstraint(["token_id"], ["api_token.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("seq"),
    )
    op.create_index("ix_news_unnumbered", "news", ["id"], postgresql_where=sa.text("seq IS NULL"))
    op.create_index("ix_news_at", "news", ["at"])
    op.create_table(
        "hook",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("address", sa.String(), nullable=False),
        sa.Column("secret", sa.String(), nullable=False),
        sa.Column("kinds", JSONB(), nullable=False),
        sa.Column("lanes", JSONB(), nullable=False),
        sa.Column("position", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.Column("made_at", WHEN, nullable=False),
        sa.Column("ended_at", WHEN, nullable=True),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_hook_made_at", "hook", ["made_at"])
    op.create_table(
        "hook_call",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("hook_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.BigInteger(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("document_id", sa.Integer(), nullable=True),
        sa.Column("body", sa.String(), nullable=False),
        sa.Column(
            "state",
            sa.String(24),
            sa.CheckConstraint("state IN ('waiting', 'done', 'failed')", name="hookcallstate"),
            nullable=False,
        ),
        sa.Column("attempts", sa.Integer(), nullable=False),
        sa.Column("answered", sa.Integer(), nullable=True),
        sa.Column("problem", sa.String(), nullable=False),
        sa.Column("next_at", WHEN, nullable=True),
        sa.Column("made_at", WHEN, nullable=False),
        sa.Column("called_at", WHEN, nullable=True),
        sa.ForeignKeyConstraint(["hook_id"], ["hook.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("hook_id", "seq"),
    )
    op.create_index("ix_hook_call_due", "hook_call", ["next_at"], postgresql_where=sa.text("state = 'waiting'"))
    for column in ("state", "document_id", "made_at"):
        op.create_index(f"ix_hook_call_{column}", "hook_call", [column])
    op.create_table(
        "taken",
        sa.Column("token_id", sa.Integer(), nullable=False),
        sa.Column("document_id", sa.Integer(), nullable=False),
        sa.Column("reference", sa.String(), nullable=False),
        sa.Column("at", WHEN, nullable=False),
        sa.ForeignKeyConstraint(["token_id"], ["api_token.id"]),
        sa.ForeignKeyConstraint(["document_id"], ["document.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("token_id", "document_id"),
    )
    op.create_index("ix_taken_at", "taken", ["at"])
    op.add_column("extraction_call", sa.Column("identity", sa.String(), nullable=True))
    op.add_column("extraction_call", sa.Column("digest", sa.String(), nullable=False, server_default=""))
    op.alter_column("extraction_call", "digest", server_default=None)
    op.create_unique_constraint("extraction_call_token_id_identity_key", "extraction_call", ["token_id", "identity"])


def downgrade() -> None:
    op.drop_column("extraction_call", "digest")
    op.drop_column("extraction_call", "identity")
    for table in ("taken", "hook_call", "hook", "news"):
        op.drop_table(table)
