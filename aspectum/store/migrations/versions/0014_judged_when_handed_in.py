"""A piece keeps the report and the critique that it was judged by, so that opening it computes nothing. Pieces from
before are judged when they are opened.
"""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("hand_ins", sa.Column("report", sa.JSON(), nullable=True))
    op.add_column("hand_ins", sa.Column("critique", sa.JSON(), nullable=True))


def downgrade() -> None:
    op.drop_column("hand_ins", "critique")
    op.drop_column("hand_ins", "report")
