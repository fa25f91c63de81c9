"""What pieces wish for by their role, in a designer's words: the tables that places are found by, read aloud."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from mirvel.core.forms.by_role import get_usual
from mirvel.core.forms.form import HUNG, Form
from mirvel.core.forms.wishes import (
    Arch,
    Arranged,
    AsUsual,
    Each,
    Falling,
    Firstly,
    Hanging,
    InTurn,
    Run,
    Spread,
    Steps,
    Wanting,
    Wants,
)
from mirvel.core.goods.facts import Role
from mirvel.core.house.design import Levels
from mirvel.core.space.vectors import BANDS, get_level
from mirvel.core.values.units import LengthUnit, format_length

_PAST, _DEEP = 1.05, 0.85  # how far out is told from here outwards, and from here inwards
_ASIDE = 0.2  # and nearer to the middle no side is told
_EVERY = {3: "third", 4: "fourth", 6: "sixth"}
_AS_IN_ANY = "as in any piece"


@dataclass(frozen=True)
class _Reader:
    """Reads a table of a form whose pieces are arranged so, and whose role usually does something."""

    form: Form
    arranged: Arranged
    unit: LengthUnit
    usual: Wants
    is_usual: bool  # whether the form has nothing of its own for it
    is_green: bool

    def read(self, wants: Wants, count: int) -> str:
        if isinstance(wants, InTurn):
            told = Counter(self.read_one(each) for each in wants.each[:count])
            if len(told) == told.total() > 2:
                return "in turn " + "; ".join(told)
            return "; ".join(f"{self.count(times, told.total())}{words}" for words, times in told.items())
        if not isinstance(wants, Firstly):
            return self.read_one(wants)
        first = wants.get_count(count)
        if first >= count:
            return self.read_one(wants.first)
        name = "the first" if first == 1 else f"{first} of {count}"
        return f"{name} {self.read_one(wants.first)}; the others {self.read_one(wants.others)}"

    @staticmethod
    def count(times: int, of: int) -> str:
        if times == of:
            return ""
        if times * 2 == of:
            return "half "
        return f"every {_EVERY[of]} " if times == 1 and of in _EVERY else f"{times} in {of} "

    def read_one(self, wanting: Wanting) -> str:
        is_usual, usual = isinstance(wanting.levels, AsUsual), self.usual
        if is_usual and not isinstance(usual, Wanting):
            return ", ".join([_AS_IN_ANY, *self.read_sides(wanting)])
        if is_usual and isinstance(usual, Wanting):
            across, away = wanting.across or usual.across, wanting.away or usual.away
            wanting = Wanting(usual.levels, wanting.shell or usual.shell, across, away)
        all_level = (is_usual or self.is_usual) and self.arranged.levels is Levels.ONE_LEVEL and not self.is_green
        out = [share for share in wanting.shell if share is not None]
        told = ["all at one level" if all_level else self.read_levels(wanting.levels), *self.read_sides(wanting)]
        if out and max(out) >= _PAST:
            told.append("past the outline")
        if out and min(out) <= _DEEP:
            told.append("deep" if max(out) <= _DEEP else "every second deep")
        return ", ".join(told)

    def read_levels(self, run: Run) -> str:
        match run:
            case Spread(low, high, by_area):
                at_all = by_area and low < BANDS[1][0] and high > BANDS[-1][0]
                return "over all levels" if at_all else _join([get_level(low, 1.0), get_level(high, 1.0)], " to ")
            case Each(levels):
                return _join([get_level(each, 1.0) for each in levels], ", ")
            case Steps(first, by, by_cm):
                step = format_length(by_cm, self.unit) if by_cm else "a step"
                return f"{get_level(first, 1.0)}, each {step} {'lower' if by_cm or by > 0 else 'higher'}"
            case Falling(first, last):
                return f"evenly from {get_level(first, 1.0)} down to {get_level(last, 1.0)}"
            case Arch():
                return "at even angles round its rim to left and right, the tallest in the middle"
            case Hanging():
                return "hanging over its sides"
        raise ValueError(f"There are no words for {run}.")

    def read_sides(self, wanting: Wanting) -> list[str]:
        left, right = ("right", "left") if self.arranged.mirrored else ("left", "right")
        front, back = ("below", "above") if self.form.pose is HUNG else ("in front", "at the back")
        told = [_tell_side(wanting.across, f"to the {left}", f"to the {right}", "to left and right")]
        told.append(_tell_side(wanting.away, front, back, f"{front.removeprefix('in ')} and {back.split()[-1]}"))
        if wanting.across == (0.0,):
            told.insert(0, "on the middle line")
        return [each for each in told if each]


def write_by_role(form: Form, role: Role, arranged: Arranged, count: int, unit: LengthUnit) -> str:
    """Where so many pieces of an entry go by their role in a form, where nothing else is meant."""
    usual = get_usual(role, arranged, count)
    reader = _Reader(form, arranged, unit, usual, role not in form.wishes, role is Role.GREENERY)
    return reader.read(form.wishes.get(role, usual), max(1, count))


def _tell_side(shares: Sequence[float], less: str, more: str, both: str) -> str:
    is_less, is_more = any(share < -_ASIDE for share in shares), any(share > _ASIDE for share in shares)
    return both if is_less and is_more else less if is_less else more if is_more else ""


def _join(names: list[str], between: str) -> str:
    """Names that follow one another, each once."""
    return between.join(dict.fromkeys(names))
