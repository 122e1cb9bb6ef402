"""Pages that are cut into documents only when all of them are read, and what was said where they were cut."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("page", sa.Column("left_out", sa.String(), nullable=True))
    op.add_column("page", sa.Column("turned", sa.Integer(), server_default="0", nullable=False))
    op.alter_column("page", "turned", server_default=None)
    op.add_column("page", sa.Column("place", sa.Integer(), server_default="0", nullable=False))
    op.execute("UPDATE page SET place = file_index")
    op.alter_column("page", "place", server_default=None)
    op.add_column(
        "document", sa.Column("cut", postgresql.JSONB(), server_default=sa.text("'{}'::jsonb"), nullable=False)
    )
    op.alter_column("document", "cut", server_default=None)
    _states("arrived_file", "filestate", "waiting", "opened", "cut", "refused")
    _states(
        "document", "documentstate",
        "reading", "unreadable", "review", "settled", "delivered", "stuck", "dissolved",
    )  # fmt: skip


def _states(table: str, constraint: str, *names: str) -> None:
    op.drop_constraint(constraint, table, type_="check")
    op.create_check_constraint(constraint, table, sa.column("state").in_(names))


def downgrade() -> None:
    _states("document", "documentstate", "reading", "unreadable", "review", "settled", "delivered", "stuck")
    _states("arrived_file", "filestate", "waiting", "opened", "refused")
    op.drop_column("document", "cut")
    op.drop_column("page", "place")
    op.drop_column("page", "turned")
    op.drop_column("page", "left_out")
