"""Wrong passwords are counted by login and address, and slow further ones down."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "wrong_passwords",
        sa.Column("subject", sa.String(), nullable=False),
        sa.Column("count", sa.Integer(), nullable=False),
        sa.Column("last_at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("subject"),
    )
    op.create_index(op.f("ix_wrong_passwords_last_at"), "wrong_passwords", ["last_at"])


def downgrade() -> None:
    op.drop_table("wrong_passwords")
