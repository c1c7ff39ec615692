"""What is set, handed in and given back, a tutor's phrases, and questions for the whole room."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "assignments",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("class_id", sa.String(32), nullable=False),
        sa.Column("kind", sa.String(40), nullable=False),
        sa.Column("title", sa.String(200), nullable=False),
        sa.Column("words", sa.String(2000), nullable=False),
        sa.Column("subject", sa.String(10), nullable=False),
        sa.Column("sheet_id", sa.String(32), nullable=True),
        sa.Column("stand_id", sa.String(32), nullable=True),
        sa.Column("hand_in", sa.JSON(), nullable=False),
        sa.Column("tolerance", sa.JSON(), nullable=False),
        sa.Column("judge_first", sa.Boolean(), nullable=False),
        sa.Column("minutes", sa.Double(), nullable=True),
        sa.Column("tries", sa.Integer(), nullable=False),
        sa.Column("due_at", sa.DateTime(), nullable=True),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("withdrawn_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(
            ["class_id"], ["classes.id"], name="fk_assignments_class_id_classes", ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["sheet_id"], ["sheets.id"], name="fk_assignments_sheet_id_sheets", ondelete="SET NULL"
        ),
        sa.ForeignKeyConstraint(
            ["stand_id"], ["stands.id"], name="fk_assignments_stand_id_stands", ondelete="SET NULL"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_assignments"),
    )
    op.create_index("ix_assignments_class_id", "assignments", ["class_id"])
    op.create_table(
        "begun",
        sa.Column("assignment_id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("sheet_id", sa.String(32), nullable=True),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["assignment_id"], ["assignments.id"], name="fk_begun_assignment_id_assignments", ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"], name="fk_begun_person_id_people", ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["sheet_id"], ["sheets.id"], name="fk_begun_sheet_id_sheets", ondelete="SET NULL"),
        sa.PrimaryKeyConstraint("assignment_id", "person_id", name="pk_begun"),
    )
    op.create_index("ix_begun_sheet_id", "begun", ["sheet_id"])
    op.create_table(
        "hand_ins",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("assignment_id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("sheet_id", sa.String(32), nullable=True),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("picture_id", sa.String(32), nullable=True),
        sa.Column("drawing_id", sa.String(32), nullable=True),
        sa.Column("drawing", sa.JSON(), nullable=True),
        sa.Column("drawing_picture_id", sa.String(32), nullable=True),
        sa.Column("note", sa.String(1000), nullable=False),
        sa.Column("found", sa.JSON(), nullable=False),
        sa.Column("mark", sa.String(20), nullable=False),
        sa.Column("word", sa.String(2000), nullable=False),
        sa.Column("returned_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(
            ["assignment_id"], ["assignments.id"], name="fk_hand_ins_assignment_id_assignments", ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["drawing_id"], ["sheets.id"], name="fk_hand_ins_drawing_id_sheets", ondelete="SET NULL"
        ),
        sa.ForeignKeyConstraint(
            ["drawing_picture_id"], ["pictures.id"], name="fk_hand_ins_drawing_picture_id_pictures"
        ),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"], name="fk_hand_ins_person_id_people", ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["picture_id"], ["pictures.id"], name="fk_hand_ins_picture_id_pictures"),
        sa.ForeignKeyConstraint(["sheet_id"], ["sheets.id"], name="fk_hand_ins_sheet_id_sheets", ondelete="SET NULL"),
        sa.PrimaryKeyConstraint("id", name="pk_hand_ins"),
        sa.UniqueConstraint("assignment_id", "person_id", "number", name="uq_hand_ins_assignment_id"),
    )
    op.create_index("ix_hand_ins_drawing_id", "hand_ins", ["drawing_id"])
    op.create_index("ix_hand_ins_person_id", "hand_ins", ["person_id"])
    op.create_index("ix_hand_ins_sheet_id", "hand_ins", ["sheet_id"])
    op.create_table(
        "remarks",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("hand_in_id", sa.String(32), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("sighting", sa.String(80), nullable=True),
        sa.Column("x_px", sa.Double(), nullable=True),
        sa.Column("y_px", sa.Double(), nullable=True),
        sa.Column("words", sa.String(1000), nullable=False),
        sa.ForeignKeyConstraint(
            ["hand_in_id"], ["hand_ins.id"], name="fk_remarks_hand_in_id_hand_ins", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_remarks"),
    )
    op.create_index("ix_remarks_hand_in_id", "remarks", ["hand_in_id"])
    op.create_table(
        "phrases",
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("words", sa.String(1000), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"], name="fk_phrases_person_id_people", ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("person_id", "number", name="pk_phrases"),
    )
    op.create_table(
        "room_questions",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("class_id", sa.String(32), nullable=False),
        sa.Column("title", sa.String(200), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("picture_id", sa.String(32), nullable=True),
        sa.Column("stand", sa.JSON(), nullable=True),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("stopped_at", sa.DateTime(), nullable=True),
        sa.Column("told_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(
            ["class_id"], ["classes.id"], name="fk_room_questions_class_id_classes", ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["picture_id"], ["pictures.id"], name="fk_room_questions_picture_id_pictures"),
        sa.PrimaryKeyConstraint("id", name="pk_room_questions"),
    )
    op.create_index("ix_room_questions_class_id", "room_questions", ["class_id"])
    op.create_table(
        "room_answers",
        sa.Column("question_id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("answer", sa.JSON(), nullable=False),
        sa.Column("judged", sa.Double(), nullable=False),
        sa.Column("truth", sa.Double(), nullable=False),
        sa.Column("seconds", sa.Double(), nullable=True),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], name="fk_room_answers_person_id_people", ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["question_id"],
            ["room_questions.id"],
            name="fk_room_answers_question_id_room_questions",
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("question_id", "person_id", name="pk_room_answers"),
    )


def downgrade() -> None:
    for table in ("room_answers", "room_questions", "phrases", "remarks", "hand_ins", "begun", "assignments"):
        op.drop_table(table)
