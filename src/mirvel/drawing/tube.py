"""The money tube: a graduated glass that fills with the price point's flower money, banded by role.

The gap at the top is the room left; what passes the brim is drawn over it in the alarm colour. Each band is
named beside it, so that colour is never alone.
"""

from decimal import Decimal

from markupsafe import Markup

from mirvel.core.goods.facts import Role
from mirvel.core.values.money import to_cent
from mirvel.core.working import Worked
from mirvel.drawing.palette import FAINT_INK, INK, NUMERALS
from mirvel.drawing.svg import curve, join, path, tag, text

ROLE_TINTS = {
    Role.GREENERY: "#7d9468",
    Role.LINE: "#8f9dc0",
    Role.FOCAL: "#cf7f68",
    Role.MASS: "#e0b98c",
    Role.FILLER: "#bcaac9",
    Role.TEXTURE: "#b5ab5e",
    Role.TRAILING: "#9bb5a4",
    Role.TOKEN: "#c9a3a3",
}
ALARM = "#b3341f"
_X, _WIDTH, _BRIM, _FOOT = 34.0, 46.0, 42.0, 224.0
_LABEL_GAP = 12.0


def draw_tube(worked: Worked) -> Markup:
    """The tube as SVG, 230 wide and 236 high."""
    money, sign = worked.money, worked.rules.currency
    budget = max(money.flower_money, Decimal(0))
    full = max(budget, Decimal("0.01"))
    per_money = (_FOOT - _BRIM) / float(full)
    bands, labels, level = [], [], _FOOT
    for role, cost in _get_role_costs(worked).items():
        height = float(cost) * per_money
        top = max(level - height, 22.0)
        bands.append(
            tag(
                "rect",
                x=_X,
                y=top,
                width=_WIDTH,
                height=max(level - top, 0.0),
                fill=ROLE_TINTS[role],
                stroke=INK,
                stroke_width=0.6,
            )
        )
        labels.append(((level + top) / 2, f"{role.value} {sign}{to_cent(cost)}"))
        level = top
    body = _draw_scale(full, sign, per_money) + join(bands)
    if level < _BRIM - 0.01:
        body += tag(
            "rect",
            x=_X - 3,
            y=level,
            width=_WIDTH + 6,
            height=_BRIM - level,
            fill="none",
            stroke=ALARM,
            stroke_width=2.4,
        )
    glass = curve(
        f"M {_X} 14 L {_X} {_FOOT} Q {_X} {_FOOT + 8} {_X + 8} {_FOOT + 8} "
        f"L {_X + _WIDTH - 8} {_FOOT + 8} Q {_X + _WIDTH} {_FOOT + 8} {_X + _WIDTH} {_FOOT} "
        f"L {_X + _WIDTH} 14"
    )
    body += tag("path", d=glass, fill="none", stroke=INK, stroke_width=1.6)
    body += tag(
        "path",
        d=path("M", _X - 5, _BRIM, "L", _X + _WIDTH + 5, _BRIM),
        stroke=INK,
        stroke_width=1.2,
        stroke_dasharray="3 2",
    )
    room_at = _get_room_at(level)
    body += _draw_labels(labels, room_at) + _draw_room(worked, room_at)
    return tag(
        "svg", tag("title", "Flower money, filled by role from the foot") + body,
        xmlns="http://www.w3.org/2000/svg", viewBox="0 0 230 236", role="img",
        font_family=NUMERALS, fill=INK, class_="tube",
    )  # fmt: skip


def _get_role_costs(worked: Worked) -> dict[Role, Decimal]:
    """Money by role, in build order."""
    costs: dict[Role, Decimal] = {}
    for entry in worked.recipe.entries:
        cost = worked.money.entry_costs[entry.id]
        if cost:
            costs[entry.role] = costs.get(entry.role, Decimal(0)) + cost
    return costs


def _draw_scale(full: Decimal, sign: str, per_money: float) -> Markup:
    """Graduations in whole money, one to five units apart as the tube allows."""
    step = next((each for each in (1, 2, 5, 10, 20, 50) if float(full) / each <= 9), 100)
    marks, labels = [], []
    for number in range(0, int(full) + 1, step):
        y = _FOOT - number * per_money
        marks.append(path("M", _X - 6, y, "L", _X, y))
        labels.append(text(f"{sign}{number}", _X - 9, y + 3.5, 9.5, text_anchor="end", fill=FAINT_INK))
    return tag("path", d="".join(marks), stroke=INK, stroke_width=0.7) + join(labels)


def _get_room_at(level: float) -> float:
    """Where what is left, or over, is written."""
    return max(13.0, min(_BRIM - 6, level - 8))


def _draw_labels(labels: list[tuple[float, str]], room_at: float) -> Markup:
    """Names beside their bands, pushed apart where bands are thin, and below what is written at the brim."""
    ats: list[float] = []
    for y, _ in labels:
        ats.append(min(y + 4, (ats[-1] if ats else _FOOT + _LABEL_GAP + 6) - _LABEL_GAP))
    least = room_at + 1
    for number in reversed(range(len(ats))):
        ats[number] = least = max(ats[number], least + _LABEL_GAP)
    drawn = []
    for (y, words), at in zip(labels, ats, strict=True):
        lead = path("M", _X + _WIDTH + 2, y, "L", _X + _WIDTH + 9, at - 3.5)
        drawn.append(tag("path", d=lead, stroke=FAINT_INK, stroke_width=0.5))
        drawn.append(text(words, _X + _WIDTH + 12, at, 11.5))
    return join(drawn)


def _draw_room(worked: Worked, room_at: float) -> Markup:
    """What is left, or over, written at the brim."""
    room, sign = to_cent(worked.money.room_left), worked.rules.currency
    words, fill = (f"{sign}{room} left", INK) if room >= 0 else (f"{sign}{-room} over", ALARM)
    return text(words, _X + _WIDTH + 12, room_at, 14, font_weight="600", fill=fill)
