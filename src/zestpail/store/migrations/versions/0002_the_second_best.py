"""The combination of values that nearly won is kept with its document."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column(
        "document", sa.Column("second_best", postgresql.JSONB(), server_default=sa.text("'{}'::jsonb"), nullable=False)
    )
    op.alter_column("document", "second_best", server_default=None)


def downgrade() -> None:
    op.drop_column("document", "second_best")
