"""The pane about one entry: what is meant by it, and what it could mean instead, each choice with the short words it
would put in its field. A choice sends those words, so that pane, field and file say the same in one language."""

from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np

from mirvel.core.changing.changes import get_entry
from mirvel.core.forms.by_role_words import write_by_role
from mirvel.core.forms.parts import Part
from mirvel.core.making.build import Build
from mirvel.core.placing.met import get_top
from mirvel.core.placing.placing import get_arranged
from mirvel.core.placing.windows import get_outside
from mirvel.core.recipe.meant import (
    Band,
    Depth,
    DepthKind,
    Facing,
    Grade,
    Height,
    HeightKind,
    Meant,
    Pattern,
    PatternKind,
    Sizes,
    Spot,
    Where,
)
from mirvel.core.recipe.meant_words import read_meant, write_meant
from mirvel.core.values.units import CM_PER_INCH, LengthUnit
from mirvel.store.shop import SavedRecipe
from mirvel.web.working import Desk

_STEP_CM, _OVER_CM, _PROUD_CM, _USUAL_TIP_CM = 5.0, 5.0, 2.0, 15.0  # what a choice begins with; the field takes any
_LINES = ((9, 3), (10, 4), (0, 6), (2, 8))  # across, aslant, along; 0 is 12 o’clock
_CURVES = ((9, 3), (3, 9), (0, 6), (6, 0))  # bowed to the back, the front, the right, the left
_GROUPS = (2, 3, 5)
_LINKED = 8  # of more other entries the pairs that may be linked are typed, not listed
_ABOUT = {
    PatternKind.RING: "ring round",
    PatternKind.BESIDE: "beside",
    PatternKind.ALTERNATING: "alternating with",
    PatternKind.GATHERED: "gathered about",
}
_FINE_CM = {LengthUnit.CM: 1.0, LengthUnit.INCH: CM_PER_INCH / 2}


@dataclass(frozen=True)
class Choice:
    """One thing an entry could mean, in a word, and all it would mean then in short words; ``lights`` are the pieces
    that stand there now, for them to light up on the drawing."""

    words: str
    text: str
    is_chosen: bool
    lights: str = ""


@dataclass(frozen=True)
class Group:
    """Choices of one kind: those at hand, and those that are picked from a list."""

    label: str
    choices: tuple[Choice, ...]
    listed: tuple[Choice, ...] = ()


@dataclass(frozen=True)
class MeantView:
    """The pane of one entry: its line, its name, what is meant in short words, what it does by its role where that is
    silent, and what is not met."""

    id: int
    state_id: int
    entry_id: str
    number: int
    name: str
    text: str
    by_role: str
    groups: tuple[Group, ...]
    unmet: tuple[str, ...]


class _Offers:
    """What one entry could mean, by what it means now."""

    def __init__(self, meant: Meant, ids: list[str], unit: LengthUnit, build: Build) -> None:
        self.meant, self.ids, self.unit, self.build = meant, ids, unit, build

    def find_there(self, there: Meant) -> str:
        """The pieces that stand in some bands or in a part of the finished piece, as the drawing names them."""
        frame = self.build.frame
        size = (frame.half_width_cm, frame.half_depth_cm, frame.above_rim_cm)
        shares = np.array([place.tip for place in self.build.places]).reshape(-1, 3) / size
        levels, parts = get_outside(there, shares, self.build.sizing.surface)
        inside = zip(self.build.places, levels + parts, strict=True)
        return " ".join(f"{place.entry.id}.{place.number}" for place, off in inside if off <= 0)

    def offer(self, words: str, **parts: object) -> Choice:
        fresh = self.meant.model_copy(update=parts)
        return Choice(words, write_meant(fresh, self.ids, self.unit), fresh == self.meant)

    def toggle(self, band: Band) -> Choice:
        """A level more, or one fewer where it is one of them."""
        has = band in self.meant.levels
        levels = tuple(each for each in Band if (each in self.meant.levels) != (each is band))
        text = write_meant(self.meant.model_copy(update={"levels": levels}), self.ids, self.unit)
        return Choice(band.value, text, has, self.find_there(Meant(levels=(band,))))

    def offer_where(self, where: Where) -> Choice:
        """A part of the piece as it is looked down on."""
        named = where.spot or where.part
        lights = "" if where.part and where.part.is_zone else self.find_there(Meant(where=where))
        return replace(self.offer(named.value if named else "", where=where), lights=lights)

    def get_parts(self) -> tuple[Part, ...]:
        """The parts its form has a name for."""
        return self.build.sizing.form.get_named_parts(self.build.frame)

    def nudge(self, part: str, least: float) -> tuple[Choice, ...]:
        """A length a little less and a little more."""
        now, fine = getattr(self.meant, part), _FINE_CM[self.unit]
        if now is None or not now.by:
            return ()
        less, more = (now.model_copy(update={"by": max(least, now.by + by)}) for by in (-fine, fine))
        offers = (self.offer("−", **{part: less}), self.offer("+", **{part: more}))
        return tuple(each for each in offers if not each.is_chosen)


def get_meant_view(saved: SavedRecipe, desk: Desk, entry_id: str) -> MeantView:
    """The pane of an entry. Raises BadInput where it is not there any more."""
    entry = get_entry(saved.recipe, entry_id)
    build = desk.work_out(saved.recipe).build
    ids = [each.id for each in saved.recipe.entries]
    unit = desk.rules.unit
    tops = [get_top(place) for place in build.places if place.entry.id == entry_id]
    others = tuple(
        (number, each.id, f"{number} {desk.catalogue.get_name(each.material)}")
        for number, each in enumerate(saved.recipe.entries, 1)
        if each.id != entry_id
    )
    offers = _Offers(entry.meant, ids, unit, build)
    form = build.sizing.form
    arranged = get_arranged(saved.recipe, form, desk.rules)
    role_words = write_by_role(form, entry.role, arranged, entry.placed, unit)
    return MeantView(
        id=saved.id,
        state_id=saved.state_id,
        entry_id=entry_id,
        number=ids.index(entry_id) + 1,
        name=f"{desk.catalogue.get_name(entry.material)}, {entry.colour}",
        text=write_meant(entry.meant, ids, unit),
        by_role=f"By its role, {entry.role.value}: {role_words}",
        groups=_get_groups(offers, others, round(max(tops, default=_USUAL_TIP_CM))),
        unmet=tuple(f"not {met.wish}: {met.instead}" for met in build.met.get(entry_id, ()) if not met.is_met),
    )


def _get_groups(offers: _Offers, others: tuple[tuple[int, str, str], ...], top_cm: float) -> tuple[Group, ...]:
    offer = offers.offer
    return (
        Group("Levels", tuple(offers.toggle(band) for band in Band)),
        _get_places(offers),
        _get_patterns(offers, others),
        _get_heights(offers, others, top_cm),
        _get_depths(offers),
        Group("Facing", (offer("as it stands", facing=None), *(offer(each.value, facing=each) for each in Facing))),
        Group(
            "Sizes",
            (
                offer("as they come", sizes=None),
                *(offer(grade.value, sizes=_keep_sizes(offers.meant.sizes, grade)) for grade in Grade),
            ),
        ),
        Group("Reserve", tuple(offer(str(count) if count else "none", held_back=count) for count in range(4))),
    )


def _get_places(offers: _Offers) -> Group:
    offer = offers.offer
    hours = tuple(
        offer(f"at {hour} o’clock", where=read_meant(f"at {hour}", offers.ids, offers.unit).where)
        for hour in range(1, 13)
    )
    now = offers.meant.where
    parts = (now if now and now.part is part else Where(part=part) for part in offers.get_parts())
    named = [*(Where(spot=spot) for spot in Spot), *parts]
    return Group("Where", (offer("all over", where=None), *(offers.offer_where(where) for where in named)), hours)


def _get_patterns(offers: _Offers, others: tuple[tuple[int, str, str], ...]) -> Group:
    offer = offers.offer

    def offer_kinds(*kinds: PatternKind) -> tuple[Choice, ...]:
        return tuple(offer(kind.value, pattern=Pattern(kind=kind)) for kind in kinds)

    lines = tuple(
        offer(f"line from {start or 12} to {end}", pattern=Pattern(kind=PatternKind.LINE, hour_from=start, hour_to=end))
        for start, end in _LINES
    )
    about = tuple(
        offer(f"{words} {name}", pattern=Pattern(kind=kind, entry=other))
        for kind, words in _ABOUT.items()
        for _, other, name in others
    )
    links = tuple(
        offer(f"linking {one} and {other}", pattern=Pattern(kind=PatternKind.LINKING, entry=one_id, other=other_id))
        for (_, one_id, one), (_, other_id, other) in combinations(others, 2)
        if len(others) <= _LINKED
    )
    at_hand = offer_kinds(
        PatternKind.TRIANGLE, PatternKind.SIDES, PatternKind.GROUP, PatternKind.LINE, PatternKind.RAYS
    )
    more = offer_kinds(
        PatternKind.SPREAD, PatternKind.CARRIED, PatternKind.LIFTED, PatternKind.FRINGE, PatternKind.FIVE
    )
    groups = tuple(
        offer(f"groups of {count}", pattern=Pattern(kind=PatternKind.GROUP, count=count)) for count in _GROUPS
    )
    curves = tuple(
        offer(f"curve from {a or 12} to {b or 12}", pattern=Pattern(kind=PatternKind.CURVE, hour_from=a, hour_to=b))
        for a, b in _CURVES
    )
    mirrored = offer_kinds(PatternKind.SIDEWAYS, PatternKind.LENGTHWAYS, PatternKind.BOTH_WAYS)
    return Group(
        "Pattern",
        (offer("by role", pattern=None), *at_hand),
        (*more, *groups, *lines, *curves, *mirrored, *about, *links),
    )


def _get_heights(offers: _Offers, others: tuple[tuple[int, str, str], ...], top_cm: float) -> Group:
    offer, now = offers.offer, offers.meant.height
    over = tuple(
        offer(f"over {name}", height=Height(kind=HeightKind.OVER, by=_OVER_CM, entry=other))
        for _, other, name in others
    )
    at_hand = (
        offer("as it comes", height=None),
        offer("one level", height=Height(kind=HeightKind.LEVEL)),
        offer("levels vary", height=Height(kind=HeightKind.VARIED)),
        offer("stair", height=_keep(now, HeightKind.STAIR, _STEP_CM)),
        offer("tip told", height=_keep(now, HeightKind.RIM, max(1.0, top_cm))),
        *offers.nudge("height", -200.0),
    )
    return Group("Height", at_hand, over)


def _get_depths(offers: _Offers) -> Group:
    offer, now = offers.offer, offers.meant.depth
    return Group(
        "Depth",
        (
            offer("by role", depth=None),
            offer("proud", depth=_keep_depth(now, DepthKind.PROUD)),
            offer("tucked in", depth=Depth(kind=DepthKind.TUCKED)),
            offer("clear of greens", depth=_keep_depth(now, DepthKind.CLEAR)),
            offer("level with greens", depth=Depth(kind=DepthKind.LEVEL)),
            *offers.nudge("depth", 0.5),
        ),
    )


def _keep(height: Height | None, kind: HeightKind, usual_cm: float) -> Height:
    """A height of a kind: as it is where it is one, else the usual."""
    return height if height and height.kind is kind else Height(kind=kind, by=usual_cm)


def _keep_sizes(sizes: Sizes | None, grade: Grade) -> Sizes:
    return sizes.model_copy(update={"grade": grade}) if sizes else Sizes(large=1, small=1, grade=grade)


def _keep_depth(depth: Depth | None, kind: DepthKind) -> Depth:
    return depth if depth and depth.kind is kind else Depth(kind=kind, by=_PROUD_CM)
