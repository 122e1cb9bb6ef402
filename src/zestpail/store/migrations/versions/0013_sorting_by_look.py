"""Documents are sorted by their look: samples of lanes, what documents were taken for, and a state of its own."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None
STATES = ("reading", "sorting", "unreadable", "review", "settled", "delivered", "stuck", "dissolved")


def upgrade() -> None:
    op.add_column(
        "document", sa.Column("sorted", postgresql.JSONB(), server_default=sa.text("'{}'::jsonb"), nullable=False)
    )
    op.alter_column("document", "sorted", server_default=None)
    op.create_table(
        "sorting_sample",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("lane_id", sa.Integer(), nullable=False),
        sa.Column("type_key", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("blob", sa.String(), nullable=False),
        sa.Column(
            "role",
            sa.Enum("training", "test", name="samplerole", native_enum=False, length=24, create_constraint=True),
            nullable=False,
        ),
        sa.Column(
            "state",
            sa.Enum(
                "waiting", "ready", "refused", name="samplestate", native_enum=False, length=24, create_constraint=True
            ),
            nullable=False,
        ),
        sa.Column("problem", sa.String(), nullable=True),
        sa.Column("pages", postgresql.JSONB(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=True),
        sa.Column("added_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["lane_id"], ["lane.id"]),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    for column in ("lane_id", "role", "state", "added_at"):
        op.create_index(op.f(f"ix_sorting_sample_{column}"), "sorting_sample", [column])
    _states(*STATES)


def downgrade() -> None:
    op.execute("UPDATE document SET state = 'review' WHERE state = 'sorting'")
    _states(*(state for state in STATES if state != "sorting"))
    op.drop_table("sorting_sample")
    op.drop_column("document", "sorted")


def _states(*names: str) -> None:
    op.drop_constraint("documentstate", "document", type_="check")
    op.create_check_constraint("documentstate", "document", sa.column("state").in_(names))
