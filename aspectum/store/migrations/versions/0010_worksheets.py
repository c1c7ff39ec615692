"""Printed worksheets, and those that came back."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "worksheet_sets",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("title", sa.String(200), nullable=False),
        sa.Column("exercises", sa.JSON(), nullable=False),
        sa.Column("grade", sa.String(20), nullable=False),
        sa.Column("paper", sa.String(10), nullable=False),
        sa.Column("copies", sa.Integer(), nullable=False),
        sa.Column("class_line", sa.String(200), nullable=False),
        sa.Column("names", sa.JSON(), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("photo_id", sa.String(32), nullable=True),
        sa.Column("sheet_id", sa.String(32), nullable=True),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name="fk_worksheet_sets_person_id_people", ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["photo_id"], ["pictures.id"], name="fk_worksheet_sets_photo_id_pictures"),
        sa.ForeignKeyConstraint(
            ["sheet_id"], ["sheets.id"], name="fk_worksheet_sets_sheet_id_sheets", ondelete="SET NULL"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_worksheet_sets"),
    )
    op.create_index("ix_worksheet_sets_person_id", "worksheet_sets", ["person_id"])
    op.create_table(
        "printed_worksheets",
        sa.Column("code", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("set_id", sa.String(32), nullable=False),
        sa.Column("copy_number", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["set_id"], ["worksheet_sets.id"], name="fk_printed_worksheets_set_id_worksheet_sets", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("code", name="pk_printed_worksheets"),
        sa.UniqueConstraint("set_id", "copy_number", "number", name="uq_printed_worksheets_set_id"),
    )
    op.create_table(
        "returned_worksheets",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("code", sa.Integer(), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("subject_id", sa.String(32), nullable=True),
        sa.Column("drawing_id", sa.String(32), nullable=True),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["code"],
            ["printed_worksheets.code"],
            name="fk_returned_worksheets_code_printed_worksheets",
            ondelete="CASCADE",
        ),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name="fk_returned_worksheets_person_id_people", ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["subject_id"], ["sheets.id"], name="fk_returned_worksheets_subject_id_sheets", ondelete="SET NULL"
        ),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["sheets.id"], name="fk_returned_worksheets_drawing_id_sheets", ondelete="SET NULL"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_returned_worksheets"),
    )
    op.create_index("ix_returned_worksheets_code", "returned_worksheets", ["code"])
    op.create_index("ix_returned_worksheets_person_id", "returned_worksheets", ["person_id"])


def downgrade() -> None:
    op.drop_table("returned_worksheets")
    op.drop_table("printed_worksheets")
    op.drop_table("worksheet_sets")
