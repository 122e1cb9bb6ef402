"""The archive: what of each document is searched, kept up by a note of what was changed."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import TSVECTOR

revision = "0022"
down_revision = "0021"
branch_labels = None
depends_on = None

BY = ("lane_id", "type_key", "state", "person_id", "party_plain", "day", "amount")
NAMES = {"lane_id": "lane", "type_key": "type", "person_id": "person", "party_plain": "party"}


def upgrade() -> None:
    op.create_table(
        "archive_due",
        sa.Column("id", sa.BigInteger(), autoincrement=True, nullable=False),
        sa.Column("document_id", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "archive_entry",
        sa.Column("document_id", sa.Integer(), nullable=False),
        sa.Column("batch_id", sa.Integer(), nullable=False),
        sa.Column("lane_id", sa.Integer(), nullable=False),
        sa.Column("type_key", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.Column("arrived_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("party", sa.String(), nullable=False),
        sa.Column("party_plain", sa.String(), nullable=False),
        sa.Column("day", sa.Date(), nullable=True),
        sa.Column("amount", sa.Numeric(18, 4), nullable=True),
        sa.Column("vector", TSVECTOR(), nullable=False),
        sa.ForeignKeyConstraint(["document_id"], ["document.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("document_id"),
    )
    op.create_index("ix_archive_entry_vector", "archive_entry", ["vector"], postgresql_using="gin")
    op.create_index("ix_archive_entry_arrived_at", "archive_entry", ["arrived_at"])
    for column in BY:
        op.create_index(f"ix_archive_entry_{NAMES.get(column, column)}", "archive_entry", [column, "document_id"])
    op.create_table(
        "archive_value",
        sa.Column("document_id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("plain", sa.String(), nullable=False),
        sa.Column("day", sa.Date(), nullable=True),
        sa.Column("amount", sa.Numeric(18, 4), nullable=True),
        sa.ForeignKeyConstraint(["document_id"], ["document.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("document_id", "key"),
    )
    for name, column in (("text", "plain"), ("day", "day"), ("amount", "amount")):
        op.create_index(f"ix_archive_value_{name}", "archive_value", ["key", column, "document_id"])
    op.create_table("search_word", sa.Column("word", sa.String(), nullable=False), sa.PrimaryKeyConstraint("word"))
    op.create_index(
        "ix_search_word_alike", "search_word", ["word"], postgresql_using="gin",
        postgresql_ops={"word": "gin_trgm_ops"},
    )  # fmt: skip
    op.execute(
        "CREATE FUNCTION document_is_due() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN "
        "INSERT INTO archive_due (document_id) VALUES (NEW.id); RETURN NULL; END $$"
    )
    op.execute(
        "CREATE TRIGGER document_is_due AFTER INSERT OR UPDATE ON document "
        "FOR EACH ROW EXECUTE FUNCTION document_is_due()"
    )
    op.execute("INSERT INTO archive_due (document_id) SELECT id FROM document ORDER BY id")


def downgrade() -> None:
    op.execute("DROP TRIGGER document_is_due ON document")
    op.execute("DROP FUNCTION document_is_due")
    for table in ("search_word", "archive_value", "archive_entry", "archive_due"):
        op.drop_table(table)
