"""Misread words are looked up by what stays of a word with one letter left out, not by likeness to every word."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import ARRAY

revision = "0025"
down_revision = "0024"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("TRUNCATE search_word")
    op.add_column("search_word", sa.Column("stubs", ARRAY(sa.Integer()), nullable=False))
    op.create_index("ix_search_word_stubs", "search_word", ["stubs"], postgresql_using="gin")
    op.execute("INSERT INTO archive_due (document_id) SELECT id FROM document ORDER BY id")


def downgrade() -> None:
    op.drop_index("ix_search_word_stubs", "search_word")
    op.drop_column("search_word", "stubs")
