"""One person at the installation, guarded; saves carry the mark of the page that made them."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("sheets", sa.Column("last_save", sa.String(64)))
    with op.batch_alter_table("people") as people:
        people.add_column(sa.Column("place", sa.String(40)))
        people.create_unique_constraint(op.f("uq_people_place"), ["place"])
    # first use could make several persons for one: all they made belongs to the first of them
    people = sa.table("people", *(sa.column(c) for c in ("id", "name", "place", "created_at")))
    bind = op.get_bind()
    ids = list(
        bind.scalars(
            sa.select(people.c.id).where(people.c.name == "At this easel").order_by(people.c.created_at, people.c.id)
        )
    )
    if not ids:
        return
    for name in ("pictures", "sheets"):
        table = sa.table(name, sa.column("person_id"))
        bind.execute(table.update().where(table.c.person_id.in_(ids)).values(person_id=ids[0]))
    bind.execute(people.delete().where(people.c.id.in_(ids[1:])))
    bind.execute(people.update().where(people.c.id == ids[0]).values(place="here"))


def downgrade() -> None:
    with op.batch_alter_table("people") as people:
        people.drop_constraint(op.f("uq_people_place"))
        people.drop_column("place")
    with op.batch_alter_table("sheets") as sheets:
        sheets.drop_column("last_save")
