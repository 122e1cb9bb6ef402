"""A delivery that could not be made for now says when it is tried next; secrets of destinations are kept sealed."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("delivery", sa.Column("next_at", sa.DateTime(timezone=True), nullable=True))
    op.create_table(
        "secret",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("sealed", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("name"),
    )


def downgrade() -> None:
    op.drop_table("secret")
    op.drop_column("delivery", "next_at")
