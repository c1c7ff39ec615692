"""A sheet from life has no picture."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("sheets") as sheets:
        sheets.alter_column("picture_id", existing_type=sa.String(32), nullable=True)


def downgrade() -> None:
    # refused by the database while there are sheets from life, which the older schema cannot hold
    with op.batch_alter_table("sheets") as sheets:
        sheets.alter_column("picture_id", existing_type=sa.String(32), nullable=False)
