"""Classes, their members, who is signed in, and photos that a telephone sent."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("people") as people:
        people.add_column(sa.Column("sign_in_name", sa.String(200), nullable=True))
        people.add_column(sa.Column("passphrase", sa.String(200), nullable=True))
        people.create_unique_constraint("uq_people_sign_in_name", ["sign_in_name"])
    op.create_table(
        "classes",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("code", sa.String(16), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("closed_at", sa.DateTime(), nullable=True),
        sa.UniqueConstraint("code", name="uq_classes_code"),
        sa.PrimaryKeyConstraint("id", name="pk_classes"),
    )
    op.create_table(
        "members",
        sa.Column("class_id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("role", sa.String(10), nullable=False),
        sa.Column("joined_at", sa.DateTime(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
        sa.Column("until", sa.DateTime(), nullable=True),
        sa.ForeignKeyConstraint(["class_id"], ["classes.id"], name="fk_members_class_id_classes", ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"], name="fk_members_person_id_people", ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("class_id", "person_id", name="pk_members"),
    )
    op.create_index("ix_members_person_id", "members", ["person_id"])
    op.create_table(
        "sign_ins",
        sa.Column("id", sa.String(64), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.Column("seen_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"], name="fk_sign_ins_person_id_people", ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id", name="pk_sign_ins"),
    )
    op.create_index("ix_sign_ins_person_id", "sign_ins", ["person_id"])
    op.create_table(
        "arrived",
        sa.Column("picture_id", sa.String(32), nullable=False),
        sa.Column("sheet_id", sa.String(32), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["picture_id"], ["pictures.id"], name="fk_arrived_picture_id_pictures", ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["sheet_id"], ["sheets.id"], name="fk_arrived_sheet_id_sheets", ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("picture_id", name="pk_arrived"),
    )
    op.create_index("ix_arrived_sheet_id", "arrived", ["sheet_id"])


def downgrade() -> None:
    for table in ("arrived", "sign_ins", "members", "classes"):
        op.drop_table(table)
    with op.batch_alter_table("people") as people:
        people.drop_constraint("uq_people_sign_in_name", type_="unique")
        people.drop_column("passphrase")
        people.drop_column("sign_in_name")
