"""Another system begins a reading by a call; what it speaks of is fetched by a worker. Lanes are tried on e-mails."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column(
        "lane_trial", sa.Column("given", postgresql.JSONB(), server_default=sa.text("'{}'::jsonb"), nullable=False)
    )
    op.alter_column("lane_trial", "given", server_default=None)
    op.create_table(
        "outside_call",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("lane_id", sa.Integer(), nullable=False),
        sa.Column("identity", sa.String(), nullable=False),
        sa.Column("record", sa.String(), nullable=False),
        sa.Column(
            "state",
            sa.Enum(
                "waiting", "taken", "failed", name="callstate", native_enum=False, length=24, create_constraint=True
            ),
            nullable=False,
        ),
        sa.Column("attempts", sa.Integer(), nullable=False),
        sa.Column("problem", sa.String(), nullable=False),
        sa.Column("next_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("batch_id", sa.Integer(), nullable=True),
        sa.Column("came_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["batch_id"], ["batch.id"]),
        sa.ForeignKeyConstraint(["lane_id"], ["lane.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("lane_id", "identity"),
    )
    for column in ("lane_id", "state", "came_at"):
        op.create_index(op.f(f"ix_outside_call_{column}"), "outside_call", [column])


def downgrade() -> None:
    op.drop_table("outside_call")
    op.drop_column("lane_trial", "given")
