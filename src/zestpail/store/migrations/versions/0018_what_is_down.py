"""What of the service itself is down."""

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


def downgrade() -> None:
    op.drop_table("process_down")
