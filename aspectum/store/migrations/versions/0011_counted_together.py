"""Tries, and who is in the room, counted in the database."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "tries",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("key", sa.String(64), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_tries"),
    )
    op.create_index("ix_tries_key", "tries", ["key"])
    op.create_index("ix_tries_at", "tries", ["at"])
    op.create_table(
        "seen_in_room",
        sa.Column("class_id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["class_id"], ["classes.id"], name="fk_seen_in_room_class_id_classes", ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name="fk_seen_in_room_person_id_people", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("class_id", "person_id", name="pk_seen_in_room"),
    )


def downgrade() -> None:
    op.drop_table("seen_in_room")
    op.drop_table("tries")
