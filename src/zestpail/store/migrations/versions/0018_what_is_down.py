"""What of the service itself is down, and which steps broke off by their own fault."""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "process_down",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("deaths", sa.Integer(), nullable=False),
        sa.Column("again_at", sa.DateTime(timezone=True), nullable=True),
        sa.PrimaryKeyConstraint("name"),
    )
    op.create_table(
        "step_broken",
        sa.Column("job_id", sa.BigInteger(), nullable=False, autoincrement=False),
        sa.Column("ended", sa.Integer(), nullable=False),
        sa.Column("raised", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("job_id"),
    )


def downgrade() -> None:
    op.drop_table("step_broken")
    op.drop_table("process_down")
