"""Set-ups on the model stand."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "stands",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("title", sa.String(200), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("last_save", sa.String(64), nullable=True),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("updated_at", sa.DateTime(), nullable=False),
        sa.Column("deleted_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"], name="fk_stands_person_id_people"),
        sa.PrimaryKeyConstraint("id", name="pk_stands"),
    )
    op.create_index("ix_stands_person_id", "stands", ["person_id"])


def downgrade() -> None:
    op.drop_index("ix_stands_person_id", "stands")
    op.drop_table("stands")
