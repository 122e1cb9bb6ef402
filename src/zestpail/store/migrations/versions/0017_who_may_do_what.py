"""People have roles, lanes can be limited to people, and tokens have scopes, lanes and an end."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    _add("person", "roles", '["operator", "author", "administrator"]')  # as everybody could until now
    _add("api_token", "scopes", '["send", "read"]')
    _add("api_token", "lanes", "[]")
    op.add_column("api_token", sa.Column("ends_at", sa.DateTime(timezone=True), nullable=True))
    op.create_table(
        "lane_person",
        sa.Column("lane_id", sa.Integer(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["lane_id"], ["lane.id"]),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("lane_id", "person_id"),
    )


def _add(table: str, column: str, before: str) -> None:
    """A column of JSON; rows that are there get what held for them before."""
    op.add_column(table, sa.Column(column, postgresql.JSONB(), server_default=sa.text(f"'{before}'"), nullable=False))
    op.alter_column(table, column, server_default=None)


def downgrade() -> None:
    op.drop_table("lane_person")
    for table, column in (
        ("person", "roles"),
        ("api_token", "scopes"),
        ("api_token", "lanes"),
        ("api_token", "ends_at"),
    ):
        op.drop_column(table, column)
