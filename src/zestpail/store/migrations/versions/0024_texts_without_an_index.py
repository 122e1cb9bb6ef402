"""The texts of pages are searched by the archive's rows: an index of their own only cost time, and refused long pages."""

from alembic import op

revision = "0024"
down_revision = "0023"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.drop_index("ix_reading_text_words", table_name="reading_text")


def downgrade() -> None:
    op.execute("CREATE INDEX ix_reading_text_words ON reading_text USING gin (to_tsvector('simple', text))")
