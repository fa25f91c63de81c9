"""Facts frames, foam, ribbons and stands have since: given to goods a shop began with, where it has not said them."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"

_WITH_FOAM = (
    "ring-foam-25", "ring-foam-30", "ring-foam-40", "pad-posy-20", "pad-posy-30", "cross-foam-60", "cross-foam-90",
    "heart-foam-33", "heart-pad-40", "cage-easel-half", "cage-easel-one", "saddle-lid-60", "saddle-lid-90",
)  # fmt: skip
_FACTS = (
    ("containers", "foam_included", dict.fromkeys(_WITH_FOAM, True)),
    ("containers", "bar_cm", {"cross-foam-60": 9, "cross-frame-76": 10, "cross-foam-90": 9, "heart-foam-33": 6}),
    ("hard_goods", "ribbon_cm", {"ribbon-16": 1.6, "ribbon-38": 3.8, "ribbon-70": 7.0}),
    ("hard_goods", "stand_cm", {"easel-wire-100": 100, "easel-wire-137": 137}),
    ("hard_goods", "is_tie", {"zip-tie-200": True}),
    ("hard_goods", "foam_ml", {"foam-cage-mini": 250, "foam-brick-standard": 2024, "foam-brick-dense": 2024,
                               "foam-brick-soft": 2024, "foam-brick-dry": 2024}),
)  # fmt: skip


def upgrade() -> None:
    goods = sa.table("goods", sa.column("kind"), sa.column("slug"), sa.column("document", sa.JSON))
    connection = op.get_bind()
    for kind, fact, known in _FACTS:
        wanted = (goods.c.kind == kind) & goods.c.slug.in_(known)
        for slug, document in connection.execute(sa.select(goods.c.slug, goods.c.document).where(wanted)).all():
            kept = document if isinstance(document, dict) else json.loads(document)
            if kept.get(fact) in (None, False):
                change = sa.update(goods).where((goods.c.kind == kind) & (goods.c.slug == slug))
                connection.execute(change.values(document={**kept, fact: known[slug]}))
