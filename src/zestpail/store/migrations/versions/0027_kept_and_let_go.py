"""Documents held back, erased and taken along; searches with a name."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0027"
down_revision = "0026"
branch_labels = None
depends_on = None

WHEN = sa.DateTime(timezone=True)


def _state(name, *values):
    allowed = ", ".join(f"'{value}'" for value in values)
    return sa.Column("state", sa.String(24), sa.CheckConstraint(f"state IN ({allowed})", name=name), nullable=False)


def _by(at="at"):
    return (
        sa.Column("person_id", sa.Integer(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column(at, WHEN, nullable=False),
    )


def upgrade() -> None:
    op.create_table(
        "held",
        sa.Column("document_id", sa.Integer(), sa.ForeignKey("document.id", ondelete="CASCADE"), nullable=False),
        sa.Column("why", sa.String(), nullable=False),
        *_by(),
        sa.PrimaryKeyConstraint("document_id"),
    )
    op.create_table(
        "erasure",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("rule", sa.String(), nullable=False),
        _state("erasurestate", "waiting", "done"),
        sa.Column("wanted", JSONB(), nullable=False),
        sa.Column("erased", JSONB(), nullable=False),
        sa.Column("left", JSONB(), nullable=False),
        *_by(),
        sa.Column("done_at", WHEN, nullable=True),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "export",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("wanted", JSONB(), nullable=False),
        sa.Column("columns", JSONB(), nullable=False),
        sa.Column("files", sa.Boolean(), nullable=False),
        sa.Column("base", sa.String(), nullable=False),
        _state("exportstate", "waiting", "done", "failed"),
        sa.Column("problem", sa.String(), nullable=False),
        sa.Column("documents", JSONB(), nullable=False),
        sa.Column("total", sa.Integer(), nullable=False),
        sa.Column("blob", sa.String(), nullable=False),
        *_by(),
        sa.Column("done_at", WHEN, nullable=True),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "archive_view",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("wanted", JSONB(), nullable=False),
        sa.Column("columns", JSONB(), nullable=False),
        sa.Column("for_all", sa.Boolean(), nullable=False),
        *_by("made_at"),
        sa.PrimaryKeyConstraint("id"),
    )
    for table, column in (("held", "at"), ("erasure", "at"), ("export", "at"), ("archive_view", "made_at")):
        op.create_index(f"ix_{table}_{column}", table, [column])
    for table in ("erasure", "export"):
        op.create_index(f"ix_{table}_state", table, ["state"])


def downgrade() -> None:
    for table in ("archive_view", "export", "erasure", "held"):
        op.drop_table(table)
