"""What was said of samples in a step of a draft, and what was said before, so that it can be taken back."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("draft_step", sa.Column("labels", postgresql.JSONB(), nullable=False, server_default="[]"))
    op.alter_column("draft_step", "labels", server_default=None)


def downgrade() -> None:
    op.drop_column("draft_step", "labels")
