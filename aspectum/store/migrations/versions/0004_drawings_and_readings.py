"""Drawings brought in on paper, and the readings of every judgement and critique by skill."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "drawings",
        sa.Column("sheet_id", sa.String(32), nullable=False),
        sa.Column("subject_id", sa.String(32), nullable=True),
        sa.Column("before_id", sa.String(32), nullable=True),
        sa.Column("photo_id", sa.String(32), nullable=False),
        sa.Column("flattening", sa.JSON(), nullable=False),
        sa.Column("content", sa.String(1000), nullable=False),
        sa.Column("next_time", sa.JSON(), nullable=False),
        sa.Column("noted_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["sheet_id"], ["sheets.id"], name="fk_drawings_sheet_id_sheets", ondelete="CASCADE"),
        sa.ForeignKeyConstraint(
            ["subject_id"], ["sheets.id"], name="fk_drawings_subject_id_sheets", ondelete="SET NULL"
        ),
        sa.ForeignKeyConstraint(["before_id"], ["sheets.id"], name="fk_drawings_before_id_sheets", ondelete="SET NULL"),
        sa.ForeignKeyConstraint(["photo_id"], ["pictures.id"], name="fk_drawings_photo_id_pictures"),
        sa.PrimaryKeyConstraint("sheet_id", name="pk_drawings"),
    )
    op.create_index("ix_drawings_subject_id", "drawings", ["subject_id"])
    op.create_table(
        "readings",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("sheet_id", sa.String(32), nullable=True),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("skill", sa.String(20), nullable=False),
        sa.Column("source", sa.String(20), nullable=False),
        sa.Column("sighting", sa.String(80), nullable=False),
        sa.Column("judged", sa.Double(), nullable=False),
        sa.Column("truth", sa.Double(), nullable=False),
        sa.Column("truth_sd", sa.Double(), nullable=True),
        sa.Column("unit", sa.String(20), nullable=False),
        sa.Column("seconds", sa.Double(), nullable=True),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"], name="fk_readings_person_id_people"),
        sa.ForeignKeyConstraint(["sheet_id"], ["sheets.id"], name="fk_readings_sheet_id_sheets", ondelete="SET NULL"),
        sa.PrimaryKeyConstraint("id", name="pk_readings"),
    )
    op.create_index("ix_readings_person_id", "readings", ["person_id"])
    op.create_index("ix_readings_sheet_id", "readings", ["sheet_id"])


def downgrade() -> None:
    op.drop_table("readings")
    op.drop_table("drawings")
