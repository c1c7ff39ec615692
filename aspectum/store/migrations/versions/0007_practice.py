"""Sets of questions and their answers, timed drawings, and readings by the one list of skills."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

# what was told in a coarser list; tilts are counted as steepness from now on, a vanishing point by how much its lines
# draw in
RENAMED = (("proportion", "length along"), ("axis", "minor axis"))


def upgrade() -> None:
    op.create_table(
        "practice_sets",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("length", sa.Integer(), nullable=False),
        sa.Column("skill", sa.String(40), nullable=True),
        sa.Column("repeat_of", sa.String(32), nullable=True),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"], name="fk_practice_sets_person_id_people"),
        sa.ForeignKeyConstraint(
            ["repeat_of"], ["practice_sets.id"], name="fk_practice_sets_repeat_of_practice_sets", ondelete="SET NULL"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_practice_sets"),
    )
    op.create_index("ix_practice_sets_person_id", "practice_sets", ["person_id"])
    op.create_table(
        "practice_questions",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("set_id", sa.String(32), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("skill", sa.String(40), nullable=False),
        sa.Column("sheet_id", sa.String(32), nullable=True),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("asked_at", sa.DateTime(), nullable=False),
        sa.Column("answered_at", sa.DateTime(), nullable=True),
        sa.Column("answer", sa.JSON(), nullable=True),
        sa.Column("judged", sa.Double(), nullable=True),
        sa.Column("truth", sa.Double(), nullable=True),
        sa.Column("seconds", sa.Double(), nullable=True),
        sa.ForeignKeyConstraint(
            ["set_id"], ["practice_sets.id"], name="fk_practice_questions_set_id_practice_sets", ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(
            ["sheet_id"], ["sheets.id"], name="fk_practice_questions_sheet_id_sheets", ondelete="SET NULL"
        ),
        sa.UniqueConstraint("set_id", "number", name="uq_practice_questions_set_id"),
        sa.PrimaryKeyConstraint("id", name="pk_practice_questions"),
    )
    op.create_table(
        "timed_drawings",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("title", sa.String(200), nullable=False),
        sa.Column("sheet_id", sa.String(32), nullable=True),
        sa.Column("stand_id", sa.String(32), nullable=True),
        sa.Column("minutes", sa.Double(), nullable=False),
        sa.Column("shares", sa.JSON(), nullable=False),
        sa.Column("ended_s", sa.JSON(), nullable=False),
        sa.Column("drawn_s", sa.Double(), nullable=False),
        sa.Column("paused_s", sa.Double(), nullable=False),
        sa.Column("holds", sa.String(1000), nullable=False),
        sa.Column("next_time", sa.JSON(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("finished_at", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"], name="fk_timed_drawings_person_id_people"),
        sa.ForeignKeyConstraint(
            ["sheet_id"], ["sheets.id"], name="fk_timed_drawings_sheet_id_sheets", ondelete="SET NULL"
        ),
        sa.ForeignKeyConstraint(
            ["stand_id"], ["stands.id"], name="fk_timed_drawings_stand_id_stands", ondelete="SET NULL"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_timed_drawings"),
    )
    op.create_index("ix_timed_drawings_person_id", "timed_drawings", ["person_id"])
    with op.batch_alter_table("readings") as readings:
        readings.alter_column("skill", existing_type=sa.String(20), type_=sa.String(40), existing_nullable=False)
        readings.add_column(sa.Column("difficulty", sa.Double(), nullable=True))
        readings.add_column(sa.Column("question_id", sa.String(32), nullable=True))
        readings.create_foreign_key(
            "fk_readings_question_id_practice_questions",
            "practice_questions",
            ["question_id"],
            ["id"],
            ondelete="SET NULL",
        )
        readings.create_index("ix_readings_made_at", ["made_at"])
    op.execute("UPDATE readings SET judged = -judged, truth = -truth WHERE skill = 'edge tilt' AND truth < 0")
    op.execute("UPDATE readings SET skill = 'other edge' WHERE skill = 'edge tilt'")
    op.execute("UPDATE readings SET skill = 'corner to corner' WHERE skill = 'alignment' AND unit = 'degrees'")
    op.execute(
        "UPDATE readings SET judged = 100 * judged, truth_sd = 100 * truth_sd, unit = 'per cent', skill = 'vanishing "
        "point' WHERE skill = 'VP'"
    )
    for old, new in RENAMED:
        op.execute(sa.text("UPDATE readings SET skill = :new WHERE skill = :old").bindparams(old=old, new=new))


def downgrade() -> None:
    op.execute("UPDATE readings SET skill = 'edge tilt' WHERE skill LIKE '% edge%' OR skill = 'upright lean'")
    op.execute("UPDATE readings SET skill = 'proportion' WHERE unit = 'per cent'")
    op.execute("UPDATE readings SET skill = substr(skill, 1, 20)")
    with op.batch_alter_table("readings") as readings:
        readings.drop_index("ix_readings_made_at")
        readings.drop_constraint("fk_readings_question_id_practice_questions", type_="foreignkey")
        readings.drop_column("question_id")
        readings.drop_column("difficulty")
        readings.alter_column("skill", existing_type=sa.String(40), type_=sa.String(20), existing_nullable=False)
    op.drop_table("timed_drawings")
    op.drop_table("practice_questions")
    op.drop_table("practice_sets")
