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
    op.drop_constraint("page_document_id_position_key", "page", type_="unique")
    op.create_unique_constraint(
        "page_document_id_position_key", "page", ["document_id", "position"], deferrable=True, initially="DEFERRED"
    )
    op.add_column("lane", sa.Column("draft", postgresql.JSONB(), server_default=sa.text("'{}'::jsonb"), nullable=False))
    op.alter_column("lane", "draft", server_default=None)
    op.add_column("arrived_file", sa.Column("of_id", sa.Integer(), nullable=True))
    op.create_foreign_key("arrived_file_of_id_fkey", "arrived_file", "arrived_file", ["of_id"], ["id"])
    op.create_index(op.f("ix_arrived_file_of_id"), "arrived_file", ["of_id"])
    op.add_column(
        "arrived_file", sa.Column("given", postgresql.JSONB(), server_default=sa.text("'{}'::jsonb"), nullable=False)
    )
    op.alter_column("arrived_file", "given", server_default=None)
    op.add_column("batch", sa.Column("channel", sa.String(), server_default="", nullable=False))
    op.alter_column("batch", "channel", server_default=None)
    op.create_table(
        "lane_trial",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("lane_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("blob", sa.String(), nullable=False),
        sa.Column("letter", postgresql.JSONB(), nullable=False),
        sa.Column("pages", sa.Integer(), nullable=False),
        sa.Column("read", sa.Integer(), nullable=False),
        sa.Column("problem", sa.String(), nullable=False),
        sa.Column("result", postgresql.JSONB(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["lane_id"], ["lane.id"]),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_lane_trial_lane_id"), "lane_trial", ["lane_id"])
    _states("arrived_file", "filestate", "waiting", "opened", "cut", "refused")
    _states(
        "document", "documentstate",
        "reading", "unreadable", "review", "settled", "delivered", "stuck", "dissolved",
    )  # fmt: skip


def _states(table: str, constraint: str, *names: str) -> None:
    op.drop_constraint(constraint, table, type_="check")
    op.create_check_constraint(constraint, table, sa.column("state").in_(names))


def downgrade() -> None:
    op.drop_table("lane_trial")
    op.drop_column("batch", "channel")
    op.drop_column("arrived_file", "given")
    op.drop_column("arrived_file", "of_id")
    op.drop_column("lane", "draft")
    _states("document", "documentstate", "reading", "unreadable", "review", "settled", "delivered", "stuck")
    _states("arrived_file", "filestate", "waiting", "opened", "refused")
    op.drop_constraint("page_document_id_position_key", "page", type_="unique")
    op.create_unique_constraint("page_document_id_position_key", "page", ["document_id", "position"])
    op.drop_column("document", "cut")
    op.drop_column("page", "place")
    op.drop_column("page", "turned")
    op.drop_column("page", "left_out")
