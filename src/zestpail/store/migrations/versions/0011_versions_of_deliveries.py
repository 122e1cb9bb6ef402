"""A delivery belongs to a version of its document, and knows what it was made of."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("delivery", sa.Column("version", sa.Integer(), server_default="1", nullable=False))
    for name in ("content", "terms"):
        op.add_column("delivery", sa.Column(name, sa.String(), server_default="", nullable=False))
    for name in ("version", "content", "terms"):
        op.alter_column("delivery", name, server_default=None)
    _unique("document_id", "destination", "version")
    _states("waiting", "sent", "failed", "recalled")


def downgrade() -> None:
    op.execute("UPDATE delivery SET state = 'waiting' WHERE state = 'recalled'")
    op.execute(
        "DELETE FROM delivery old USING delivery new WHERE old.document_id = new.document_id "
        "AND old.destination = new.destination AND old.version < new.version"
    )
    _states("waiting", "sent", "failed")
    _unique("document_id", "destination")
    for name in ("version", "content", "terms"):
        op.drop_column("delivery", name)


def _unique(*columns: str) -> None:
    for constraint in sa.inspect(op.get_bind()).get_unique_constraints("delivery"):
        op.drop_constraint(constraint["name"], "delivery", type_="unique")
    op.create_unique_constraint(f"delivery_{'_'.join(columns)}_key", "delivery", columns)


def _states(*names: str) -> None:
    op.drop_constraint("deliverystate", "delivery", type_="check")
    op.create_check_constraint("deliverystate", "delivery", sa.column("state").in_(names))
