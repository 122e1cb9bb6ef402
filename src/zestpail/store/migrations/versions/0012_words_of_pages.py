"""The words of pages can be searched; people can be disabled."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "reading_text",
        sa.Column("reading", sa.String(), nullable=False),
        sa.Column("text", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("reading"),
    )
    op.execute("CREATE INDEX ix_reading_text_words ON reading_text USING gin (to_tsvector('simple', text))")
    op.add_column("person", sa.Column("disabled_at", sa.DateTime(timezone=True), nullable=True))


def downgrade() -> None:
    op.drop_column("person", "disabled_at")
    op.drop_index("ix_reading_text_words", "reading_text")
    op.drop_table("reading_text")
