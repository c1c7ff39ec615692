"""An assignment says whether what a picture is found to show may be looked at: not where everything is judged by eye
first, unless its tutor lets it.
"""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("assignments", sa.Column("found", sa.String(20), nullable=False, server_default="never"))
    op.execute(sa.text("UPDATE assignments SET found = 'as it comes' WHERE NOT judge_first"))


def downgrade() -> None:
    op.drop_column("assignments", "found")
