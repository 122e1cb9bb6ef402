"""What a person did to a page beyond turning it, and what she noted on it."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for name, empty in (("by_hand", "{}"), ("notes", "[]")):
        op.add_column(
            "page", sa.Column(name, postgresql.JSONB(), server_default=sa.text(f"'{empty}'::jsonb"), nullable=False)
        )
        op.alter_column("page", name, server_default=None)
    op.execute("UPDATE page SET by_hand = jsonb_build_object('turned', turned) WHERE turned <> 0")
    op.add_column("page", sa.Column("pile_id", sa.Integer(), nullable=True))
    op.create_foreign_key("page_pile_id_fkey", "page", "arrived_file", ["pile_id"], ["id"])
    op.create_index(op.f("ix_page_pile_id"), "page", ["pile_id"])
    op.execute("UPDATE page SET pile_id = file_id")
    op.create_table(
        "api_token",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("secret_hash", sa.String(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("used_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("revoked_at", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("secret_hash"),
    )
    op.create_index(op.f("ix_api_token_made_at"), "api_token", ["made_at"])
    op.create_table(
        "scan",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("lane_id", sa.Integer(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.Column("settings", postgresql.JSONB(), nullable=False),
        sa.Column("job", sa.String(), nullable=False),
        sa.Column("state", sa.String(length=24), nullable=False),
        sa.Column("problem", sa.String(), nullable=False),
        sa.Column("sheets", postgresql.JSONB(), nullable=False),
        sa.Column("sides", sa.Integer(), nullable=False),
        sa.Column("batch_id", sa.Integer(), nullable=True),
        sa.Column("began_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["lane_id"], ["lane.id"]),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.ForeignKeyConstraint(["batch_id"], ["batch.id"]),
        sa.PrimaryKeyConstraint("id"),
        sa.CheckConstraint("state IN ('scanning', 'stopped', 'done', 'given up')", name="scanstate"),
    )
    op.create_index(op.f("ix_scan_lane_id"), "scan", ["lane_id"])
    op.create_index(op.f("ix_scan_state"), "scan", ["state"])
    op.create_index(op.f("ix_scan_began_at"), "scan", ["began_at"])
    # what can be taken back of earlier mendings says it the new way
    op.execute(
        """UPDATE event SET before = jsonb_set(before, '{pages}', (
             SELECT jsonb_object_agg(key, (value - 'turned') || jsonb_build_object('by_hand',
               CASE WHEN coalesce((value->>'turned')::int, 0) = 0 THEN '{}'::jsonb
                    ELSE jsonb_build_object('turned', (value->>'turned')::int) END))
             FROM jsonb_each(before->'pages')))
           WHERE what = 'ribbon mended' AND before->'pages' <> '{}'::jsonb"""
    )
    op.drop_column("page", "turned")


def downgrade() -> None:
    op.add_column("page", sa.Column("turned", sa.Integer(), server_default="0", nullable=False))
    op.execute("UPDATE page SET turned = coalesce((by_hand->>'turned')::int, 0)")
    op.alter_column("page", "turned", server_default=None)
    op.drop_table("scan")
    op.drop_table("api_token")
    op.drop_column("page", "pile_id")
    op.drop_column("page", "notes")
    op.drop_column("page", "by_hand")
