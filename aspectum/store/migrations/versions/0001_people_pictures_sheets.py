"""People, pictures and sheets."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "people",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_people")),
    )
    op.create_table(
        "pictures",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("width_px", sa.Integer(), nullable=False),
        sa.Column("height_px", sa.Integer(), nullable=False),
        sa.Column("focal_35mm", sa.Double()),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"], name=op.f("fk_pictures_person_id_people")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_pictures")),
    )
    op.create_index(op.f("ix_pictures_person_id"), "pictures", ["person_id"])
    op.create_index(op.f("ix_pictures_sha256"), "pictures", ["sha256"])
    op.create_table(
        "sheets",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("person_id", sa.String(32), nullable=False),
        sa.Column("picture_id", sa.String(32), nullable=False),
        sa.Column("title", sa.String(200), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("updated_at", sa.DateTime(), nullable=False),
        sa.Column("deleted_at", sa.DateTime()),
        sa.ForeignKeyConstraint(["person_id"], ["people.id"], name=op.f("fk_sheets_person_id_people")),
        sa.ForeignKeyConstraint(["picture_id"], ["pictures.id"], name=op.f("fk_sheets_picture_id_pictures")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sheets")),
    )
    op.create_index(op.f("ix_sheets_person_id"), "sheets", ["person_id"])


def downgrade() -> None:
    op.drop_table("sheets")
    op.drop_table("pictures")
    op.drop_table("people")
