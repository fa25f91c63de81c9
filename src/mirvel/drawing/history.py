"""What a good has cost, drawn: the cost in force as a stepped line, offers as open rings, today marked."""

from collections.abc import Callable, Iterable
from datetime import date, timedelta
from decimal import Decimal

from markupsafe import Markup

from mirvel.core.buying.costs import PurchasePrice
from mirvel.core.values.days import DayOrder, format_day
from mirvel.drawing.palette import FAINT_INK, INK, NUMERALS
from mirvel.drawing.svg import join, path, tag, text

At = Callable[[date, Decimal], tuple[float, float]]
WIDTH, HEIGHT = 460.0, 150.0
_LEFT, _RIGHT, _TOP, _BOTTOM = 46.0, 12.0, 12.0, 24.0
_LINE, _OFFER = "#1f4e79", "#a82f1c"


def draw_history(points: Iterable[PurchasePrice], today: date, currency: str) -> Markup:
    """An SVG of the newest prices; nothing where there is no price. Old prices before the first change are the left
    end of the line, however long ago they began."""
    known = sorted(points, key=lambda point: (point.since, point.number))
    if not known:
        return Markup()
    recent = [point.since for point in known if (today - point.since).days < 800]
    begin = min([*recent, today - timedelta(days=30)])
    span = (max(today, known[-1].since) - begin).days
    begin_day, days = begin.toordinal() - span * 0.12, span * 1.16
    top = max(point.cost for point in known) * Decimal("1.15") or Decimal(1)

    def at(day: date, cost: Decimal) -> tuple[float, float]:
        along = max(0.0, (day.toordinal() - begin_day) / days)
        up = float(cost / top)
        return _LEFT + along * (WIDTH - _LEFT - _RIGHT), HEIGHT - _BOTTOM - up * (HEIGHT - _TOP - _BOTTOM)

    title = f"Cost over time, {currency} landed, {_say(begin)} to {_say(today)}"
    parts = [tag("title", title), _draw_frame(top, currency)]
    parts.append(_draw_line([point for point in known if point.counts], today, at))
    for point in known:
        x, y = at(point.since, point.cost)
        said = tag("title", f"{_say(point.since)}: {currency}{point.cost} ({point.source})")
        look: dict[str, str | float | None] = {"fill": "none" if not point.counts else _LINE}
        colour = _LINE if point.counts else _OFFER
        parts.append(tag("circle", said, cx=x, cy=y, r=3.2, stroke=colour, stroke_width=1.4, **look))
    parts += _draw_days(sorted({begin, today, *recent}), at)
    return tag(
        "svg", join(parts), xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {WIDTH:.0f} {HEIGHT:.0f}",
        class_="history", role="img",
    )  # fmt: skip


def _draw_frame(top: Decimal, currency: str) -> Markup:
    """The axes, with the cost at the top and half way."""
    low, high = HEIGHT - _BOTTOM, _TOP
    parts = [
        tag("path", d=path("M", _LEFT, high, "V", low, "H", WIDTH - _RIGHT), fill="none", stroke=INK, stroke_width=1)
    ]
    for share in (Decimal(1), Decimal("0.5")):
        y = low - float(share) * (low - high)
        grid = path("M", _LEFT, y, "H", WIDTH - _RIGHT)
        parts.append(tag("path", d=grid, stroke=FAINT_INK, stroke_width=0.4, stroke_dasharray="2 3"))
        label = f"{currency}{top * share:.2f}"
        parts.append(text(label, _LEFT - 5, y + 4, 11, text_anchor="end", fill=INK, font_family=NUMERALS))
    return join(parts)


def _draw_line(counting: list[PurchasePrice], today: date, at: At) -> Markup:
    if not counting:
        return Markup()
    parts: list[str | float] = []
    for point in counting:
        x, y = at(point.since, point.cost)
        parts += ["H", x, "V", y] if parts else ["M", x, y]
    end, _ = at(max(today, counting[-1].since), counting[-1].cost)
    return tag("path", d=path(*parts, "H", end), fill="none", stroke=_LINE, stroke_width=2)


def _say(day: date) -> str:
    return format_day(day, DayOrder.DAY_FIRST)


def _draw_days(days: list[date], at: At) -> list[Markup]:
    """Days under the line, as many as have room."""
    drawn, free_from = [], 0.0
    for day in [days[-1], *days[:-1]]:
        x, _ = at(day, Decimal(0))
        if day == days[-1] or (x > free_from and x < at(days[-1], Decimal(0))[0] - 62):
            look = {"text_anchor": "middle" if day != days[-1] else "end", "fill": INK, "font_family": NUMERALS}
            end = min(x + 20, WIDTH - 2) if day == days[-1] else x
            drawn.append(text(_say(day), end, HEIGHT - 7, 11, **look))
            free_from = x + 66 if day != days[-1] else free_from
    return drawn
