"""Eye to stick with a straight arm, measured once per person."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("people", sa.Column("arm_mm", sa.Double(), nullable=True))


def downgrade() -> None:
    op.drop_column("people", "arm_mm")
