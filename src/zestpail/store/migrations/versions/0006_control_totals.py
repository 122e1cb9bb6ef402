"""What somebody counted and added up of a batch beforehand."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column(
        "batch", sa.Column("control", postgresql.JSONB(), server_default=sa.text("'{}'::jsonb"), nullable=False)
    )
    op.alter_column("batch", "control", server_default=None)


def downgrade() -> None:
    op.drop_column("batch", "control")
