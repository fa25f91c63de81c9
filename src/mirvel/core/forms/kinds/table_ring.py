"""The table ring: a ring of foam lying flat, covered all over and seen all round; candles may stand in it."""

from dataclasses import replace

from mirvel.core.forms.kinds.foam_ring import FORM as FOAM_RING
from mirvel.core.house.design import SeenFrom
from mirvel.core.space.vectors import UPRIGHT

FORM = replace(
    FOAM_RING,
    name="table ring",
    about="A ring of foam lying flat on a table, covered all over; candles may stand in its foam.",
    pose=UPRIGHT,
    seen_from=SeenFrom.ALL_ROUND,
    token=None,
)
