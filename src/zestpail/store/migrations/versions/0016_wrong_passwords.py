"""Wrong passwords are counted by login and address, and slow further ones down; sessions can be ended."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("person", sa.Column("session", sa.Integer(), server_default="1", nullable=False))
    op.alter_column("person", "session", server_default=None)
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
    op.drop_column("person", "session")
