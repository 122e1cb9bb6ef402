"""What pages look like from afar, and which document shows the same paper."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import BIT

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("page", sa.Column("print", BIT(256), nullable=True))
    op.create_index(
        "ix_page_first_prints", "page", ["print"], postgresql_where=sa.text("position = 0 AND print IS NOT NULL"),
        postgresql_include=["document_id"],
    )  # fmt: skip
    op.add_column("document", sa.Column("same_paper_id", sa.Integer(), nullable=True))
    op.create_foreign_key(
        "document_same_paper_id_fkey", "document", "document", ["same_paper_id"], ["id"], ondelete="SET NULL"
    )


def downgrade() -> None:
    op.drop_constraint("document_same_paper_id_fkey", "document")
    op.drop_column("document", "same_paper_id")
    op.drop_index("ix_page_first_prints", "page")
    op.drop_column("page", "print")
