"""What puts a finding right: a change like any other, tried beforehand, with all that it brings."""

import math
from collections import Counter
from collections.abc import Callable, Collection, Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal
from itertools import islice

from mirvel.core.changing import changes
from mirvel.core.changing.changes import Change
from mirvel.core.changing.moving import place_again
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import PieceSize, Role
from mirvel.core.goods.hard_good import FoamGrade
from mirvel.core.judging.check import Check, Severity
from mirvel.core.making.standing import TIES
from mirvel.core.making.water import get_clear_tip_cm
from mirvel.core.pricing.pricing import get_money
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.meant import Band, Height, HeightKind
from mirvel.core.recipe.meant_words import describe_meant
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import take
from mirvel.core.values.problems import BadInput
from mirvel.core.vessels.bricks import BRICK_ML, get_bricks
from mirvel.core.working import Worked

TRIED = 8  # changes for one finding
_PLACINGS = 3  # of an entry, and as many of all
MOST_MENDED = 12  # findings in one go
_HIGHER = 3  # ways in which leaves may be meant to stand higher
_STEPS = (1, 2, 3, 5, 7, 9, 11, 13)  # of the height, lower or taller
_MOST_MORE = 12
_LESS_WEIGHTY = (Role.FILLER, Role.TEXTURE, Role.MASS, Role.GREENERY, Role.LINE, Role.TRAILING, Role.FOCAL, Role.TOKEN)
_GRAVEST = list(Severity)
_OF_SIZE, _SIZES_TRIED = frozenset({"thin", "crowded"}), 5
WorkOut = Callable[[Recipe, Recipe], Worked]  # a changed recipe, from the one before
Maker = Callable[[Worked, Check, Catalogue], Iterator[Change]]


@dataclass(frozen=True)
class Mend:
    """A change that puts one or several findings right: in words, the recipe before and with it, each worked out."""

    words: tuple[str, ...]
    before: Worked
    after: Worked

    @property
    def spent_by(self) -> Decimal:
        """How much more the flowers cost with it."""
        return self.after.money.spent - self.before.money.spent

    @property
    def taller_by_cm(self) -> float:
        return self.after.build.overall_height_cm - self.before.build.overall_height_cm

    @property
    def pieces(self) -> Mapping[str, int]:
        """How many pieces of each entry more, or fewer; those alone that change."""
        old = {entry.id: entry.pieces for entry in self.before.recipe.entries}
        found = {entry.id: entry.pieces - old.get(entry.id, 0) for entry in self.after.recipe.entries}
        return {entry: by for entry, by in found.items() if by}

    @property
    def gone(self) -> tuple[Check, ...]:
        """What is not found any more."""
        ids = {check.id for check in self.after.checks}
        return tuple(check for check in self.before.checks if check.id not in ids)

    @property
    def come(self) -> tuple[Check, ...]:
        """What is found with it and was not before, the gravest first."""
        ids = {check.id for check in self.before.checks}
        return tuple(check for check in self.after.checks if check.id not in ids)

    @property
    def rank(self) -> tuple[int, int]:
        """How many stops and how many warnings more it brings than go: less is better."""
        come, gone = (Counter(check.severity for check in checks) for checks in (self.come, self.gone))
        stops, warnings = (come[each] - gone[each] for each in (Severity.STOP, Severity.WARN))
        return stops, warnings


def find_mend(worked: Worked, check: Check, catalogue: Catalogue, work_out: WorkOut, tried: int = TRIED) -> Mend | None:
    """The first change for a finding that makes it go and brings no stop and, if there is one, no warning either; None
    where there is none."""
    maker = MAKERS.get(check.kind)
    second: Mend | None = None
    for change in islice(maker(worked, check, catalogue), tried) if maker else ():
        try:
            mend = Mend((change.words,), worked, work_out(worked.recipe, change.recipe))
        except BadInput:
            continue
        come = {each.severity for each in mend.come}
        if check.id in {each.id for each in mend.after.checks} or Severity.STOP in come:
            continue
        if Severity.WARN not in come:
            return mend
        second = second or mend
    return second


def find_other_size(mend: Mend, catalogue: Catalogue, work_out: WorkOut) -> Mend | None:
    """The same change taller or lower, where it makes the piece thin or crowded and this puts it right without as many
    findings of its own; None where it does not, or nothing does."""
    check = next((each for each in mend.come if each.kind in _OF_SIZE and each.severity is not Severity.NOTE), None)
    found = find_mend(mend.after, check, catalogue, work_out, _SIZES_TRIED) if check else None
    other = Mend((*mend.words, *found.words), mend.before, found.after) if found else None
    return other if other and other.rank < mend.rank else None


def find_other_vessel(mend: Mend, catalogue: Catalogue, work_out: WorkOut) -> Mend | None:
    """The same change in another container of the kind, larger or smaller, where it makes the piece thin or crowded and
    this puts it right without as many findings of its own; None where none does."""
    check = next((each for each in mend.come if each.kind in _OF_SIZE and each.severity is not Severity.NOTE), None)
    if check is None:
        return None
    for slug in _find_vessels(mend.after, catalogue, larger=check.kind == "crowded")[:_SIZES_TRIED]:
        try:
            change = changes.set_container(mend.after.recipe, catalogue, slug)
            other = Mend((*mend.words, change.words), mend.before, work_out(mend.after.recipe, change.recipe))
        except BadInput:
            continue
        if check.id not in {each.id for each in other.after.checks} and other.rank < mend.rank:
            return other
    return None


def _find_vessels(worked: Worked, catalogue: Catalogue, *, larger: bool) -> list[str]:
    """Containers of the same kind and make that the form can stand in, those nearest in size first."""
    own, form = worked.build.container, worked.build.sizing.form
    alike = [
        each
        for each in catalogue.containers.values()
        if (each.kind, each.clear, each.shape, each.vessels) == (own.kind, own.clear, own.shape, own.vessels)
        and not each.retired
        and form.takes(each)
        and (each.mouth_cm > own.mouth_cm if larger else each.mouth_cm < own.mouth_cm)
    ]
    return [each.slug for each in sorted(alike, key=lambda each: (abs(each.mouth_cm - own.mouth_cm), each.slug))]


def mend_all(worked: Worked, catalogue: Catalogue, work_out: WorkOut) -> Mend | None:
    """One finding after another put right, the gravest first, each as the one before has left it; None where nothing
    can be."""
    after, words, tried = worked, list[str](), set[str]()
    while len(tried) < MOST_MENDED:
        left = [each for each in after.checks if each.kind in MAKERS and each.id not in tried]
        if not left:
            break
        # among those as grave, what is put right without placing anew comes first: it may be all that it takes
        check = min(left, key=lambda each: (_GRAVEST.index(each.severity), MAKERS[each.kind] is _place_again))
        tried.add(check.id)
        mend = find_mend(after, check, catalogue, work_out)
        if mend and not any(each.severity is Severity.WARN for each in mend.come):
            after, words = mend.after, [*words, *mend.words]
    return Mend(tuple(words), worked, after) if words else None


def _get_entry(worked: Worked, check: Check) -> Entry | None:
    """The entry a finding is about, or that it is seen at first."""
    entry_id = check.pieces[0].partition(".")[0] if check.pieces else check.about.partition("-")[0]
    return worked.recipe.find_entry(entry_id)


def _place_again(worked: Worked, check: Check, _: Catalogue) -> Iterator[Change]:
    """The entry once more, another way; then all that is not held."""
    entry = _get_entry(worked, check)
    for attempts in range(1, _PLACINGS + 1) if entry else ():
        yield place_again(worked.recipe, entry.id if entry else "", attempts)
    for attempts in range(1, _PLACINGS + 1):
        yield place_again(worked.recipe, "", attempts)


def _take_out(worked: Worked, _: Check, catalogue: Catalogue) -> Iterator[Change]:
    """As few pieces as bring the flowers under their money: whole stems at a time, from what a piece misses least for
    what it saves, at most half of an entry; of what the piece is made for only where nothing else is left."""
    for may_go in (_LESS_WEIGHTY[:-2], _LESS_WEIGHTY):
        recipe, taken = worked.recipe, dict[str, int]()
        while _get_room(recipe, catalogue, worked) < 0:
            ways = list(_find_ways_to_save(recipe, taken, may_go, catalogue, worked))
            if not ways:
                break
            entry_id, count = min(ways, key=lambda way: way[0])[1]
            taken[entry_id] = taken.get(entry_id, 0) - count
            recipe = changes.nudge_pieces(recipe, entry_id, -count).recipe
        else:
            yield _change_pieces(worked.recipe, taken, catalogue)


def _get_room(recipe: Recipe, catalogue: Catalogue, worked: Worked) -> Decimal:
    """The money that a recipe with other counts may still cost."""
    return -get_money(take(recipe, catalogue), worked.rules).over


def _find_ways_to_save(
    recipe: Recipe, taken: Mapping[str, int], may_go: Collection[Role], catalogue: Catalogue, worked: Worked
) -> Iterator[tuple[float, tuple[str, int]]]:
    """Of each entry, how many pieces fewer save a stem, with how much of it is missed for what is saved."""
    room = _get_room(recipe, catalogue, worked)
    for entry in recipe.entries:
        most = (entry.pieces - taken.get(entry.id, 0)) // 2 + taken.get(entry.id, 0)
        if entry.role not in may_go or entry.locked:
            continue
        for count in range(1, min(most, _MOST_MORE) + 1):
            saved = _get_room(changes.nudge_pieces(recipe, entry.id, -count).recipe, catalogue, worked) - room
            if saved > 0:
                yield count / entry.pieces / float(min(saved, -room)), (entry.id, count)
                break


def _put_in(worked: Worked, _: Check, catalogue: Catalogue) -> Iterator[Change]:
    """As many pieces of one entry as the money left buys, half as many again at most."""
    for entry, each in _get_by_weight(worked):
        count = int(worked.money.room_left // each)
        if 0 < count <= max(2, entry.pieces // 2):
            yield _change_pieces(worked.recipe, {entry.id: count}, catalogue)


def _change_pieces(recipe: Recipe, by: Mapping[str, int], catalogue: Catalogue) -> Change:
    words = []
    for entry_id, count in by.items():
        entry = changes.get_entry(recipe, entry_id)
        recipe = changes.nudge_pieces(recipe, entry_id, count).recipe
        words.append(f"{abs(count)} {'more' if count > 0 else 'fewer'} {catalogue.get_name(entry.material)}")
    return Change(recipe, ", ".join(words))


def _get_by_weight(worked: Worked) -> list[tuple[Entry, Decimal]]:
    """Entries that may change and what one piece of each costs, those that weigh least in a piece first."""
    costs = worked.money.entry_costs
    found = [entry for entry in worked.recipe.entries if entry.pieces and costs[entry.id] > 0 and not entry.locked]
    found.sort(key=lambda entry: _LESS_WEIGHTY.index(entry.role))
    return [(entry, costs[entry.id] / entry.pieces) for entry in found]


def _go(way: int) -> Maker:
    def find(worked: Worked, _: Check, __: Catalogue) -> Iterator[Change]:
        """Lower or taller, by more and more steps."""
        for step in _STEPS:
            yield changes.nudge_height(worked.recipe, way * step)

    return find


def _charge_foam(worked: Worked, _: Check, catalogue: Catalogue) -> Iterator[Change]:
    own = [use.hard_good for use in worked.recipe.hard_goods]
    goods = sorted(catalogue.hard_goods.values(), key=lambda good: (good.slug not in own, good.slug))
    for good in goods:
        if good.foam_ml == BRICK_ML and not good.retired:
            bricks = get_bricks(worked.build.foam_to_buy_ml)
            yield changes.use_hard_good(worked.recipe, catalogue, good.slug, str(bricks))


def _change_foam(worked: Worked, _: Check, catalogue: Catalogue) -> Iterator[Change]:
    """As much of another foam, the usual one first."""
    used = [(use, catalogue.hard_goods[use.hard_good]) for use in worked.recipe.hard_goods]
    foams = [(use, good) for use, good in used if good.foam_ml]
    others = [good for good in catalogue.hard_goods.values() if good.foam_ml and not (good.retired or good.same_as)]
    for other in sorted(others, key=lambda good: (good.foam_grade is not FoamGrade.STANDARD, good.slug)):
        if any(good.foam_ml != other.foam_ml or good.foam_grade is other.foam_grade for _, good in foams):
            continue
        changed = Change(worked.recipe, "")
        for use, _good in foams:
            left = changes.drop_hard_good(changed.recipe, use.hard_good).recipe
            changed = changes.use_hard_good(left, catalogue, other.slug, use.typed)
        yield changed


def _tie(worked: Worked, _: Check, catalogue: Catalogue) -> Iterator[Change]:
    for good in catalogue.hard_goods.values():
        if good.is_tie and not good.retired:
            yield changes.use_hard_good(worked.recipe, catalogue, good.slug, str(TIES))


def _drop_twice(worked: Worked, check: Check, _: Catalogue) -> Iterator[Change]:
    yield changes.drop_hard_good(worked.recipe, check.about)


def _bevel(worked: Worked, _: Check, __: Catalogue) -> Iterator[Change]:
    yield changes.bevel_foam(worked.recipe, on=True)


def _take_usual_minutes(worked: Worked, _: Check, __: Catalogue) -> Iterator[Change]:
    usual = worked.rules.get_usual_minutes(len(worked.build.places))
    if usual is not None:
        yield changes.set_field(worked.recipe, "minutes", f"{usual:.0f}")


def _see_from_front(worked: Worked, _: Check, __: Catalogue) -> Iterator[Change]:
    yield changes.set_brief(worked.recipe, "seen_from", "front")


def _take_width_as_built(worked: Worked, _: Check, __: Catalogue) -> Iterator[Change]:
    height = worked.recipe.size.own_height_cm
    if height:
        yield changes.set_own_size(worked.recipe, height, round(worked.build.sizing.width_cm, 1))


def _hold_fewer(worked: Worked, check: Check, _: Catalogue) -> Iterator[Change]:
    entry = worked.recipe.find_entry(check.about)
    if entry:
        meant = entry.meant.model_copy(update={"held_back": max(0, entry.pieces - 1)})
        yield _change_entry(worked.recipe, entry, {"meant": meant}, f"{entry.material}: one is placed")


def _mean_less(worked: Worked, check: Check, _: Catalogue) -> Iterator[Change]:
    """Place it again, else without the wish that cannot be met."""
    entry_id, part = check.about.partition("-")[::2]
    entry = worked.recipe.find_entry(entry_id)
    if entry:
        for attempts in range(1, _PLACINGS + 1):
            yield place_again(worked.recipe, entry.id, attempts)
        yield _change_entry(
            worked.recipe, entry, {"meant": entry.meant.leave_out([part])}, f"{entry.material}: no {part} is meant"
        )


def _change_entry(recipe: Recipe, entry: Entry, fields: Mapping[str, object], words: str) -> Change:
    changed = [each.model_copy(update=fields) if each.id == entry.id else each for each in recipe.entries]
    return Change(recipe.change(entries=[each.model_dump() for each in changed]), words)


def _take_whole_stems(worked: Worked, check: Check, catalogue: Catalogue) -> Iterator[Change]:
    """Whole stems instead of side pieces, else lower."""
    entry = _get_entry(worked, check)
    if entry and entry.piece is PieceSize.LATERAL:
        yield changes.set_entry(worked.recipe, entry.id, "piece", PieceSize.STEM.value)
    yield from _go(-1)(worked, check, catalogue)


def _stand_higher(worked: Worked, check: Check, catalogue: Catalogue) -> Iterator[Change]:
    """Leaves among the highest, else with their tips so far over the rim that no blade reaches the water; those of all
    entries that stand in it."""
    names = {each.id: catalogue.get_name(each.material) for each in worked.recipe.entries}
    wet = {piece.partition(".")[0] for piece in check.pieces}
    for number in range(_HIGHER):
        recipe, words = worked.recipe, list[str]()
        for entry in (each for each in worked.recipe.entries if each.id in wet):
            meant = entry.meant.model_copy(update=_get_higher(worked, entry)[number])
            words.append(f"{names[entry.id]}: {describe_meant(meant, names, worked.rules.unit)}")
            recipe = _change_entry(recipe, entry, {"meant": meant}, words[-1]).recipe
        yield Change(recipe, "; ".join(words))


def _get_higher(worked: Worked, entry: Entry) -> list[Mapping[str, object]]:
    """What may be meant by leaves that are to stand higher, the freest first."""
    container, places = worked.build.container, worked.build.places
    over_cm = math.ceil(max(get_clear_tip_cm(each.head, container) for each in places if each.entry.id == entry.id))
    return [
        {"levels": (Band.HIGH, Band.CROWN), "height": None},
        {"levels": (Band.CROWN,), "height": None},
        {"levels": (), "height": Height(kind=HeightKind.RIM, by=max(1, over_cm))},
    ]


def _line_all_round(worked: Worked, check: Check, catalogue: Catalogue) -> Iterator[Change]:
    entry = _get_entry(worked, check)
    for more in (1, 2, 3, 4, 6, _MOST_MORE) if entry else ():
        yield _change_pieces(worked.recipe, {entry.id if entry else "": more}, catalogue)


# By what kind of finding; what is not here takes a person.
MAKERS: Mapping[str, Maker] = {
    "overfilled": _take_out,
    "underfilled": _put_in,
    "foam-charged": _charge_foam,
    "twice": _drop_twice,
    "square-edges": _bevel,
    "foam-grade": _change_foam,
    "minutes": _take_usual_minutes,
    "sight-line": _go(-1),
    "low-piece": _go(-1),
    "tips": _go(-1),
    "width-held": _take_width_as_built,
    "short": _take_whole_stems,
    "seen-from": _see_from_front,
    "thin": _go(-1),
    "crowded": _go(1),
    "ties": _tie,
    "lining": _line_all_round,
    "leaf-in-water": _stand_higher,
    "held": _hold_fewer,
    "meant": _mean_less,
    **dict.fromkeys(("foam-shows", "gaps", "flat-side", "outline-passed", "not-reached", "clump"), _place_again),
    **dict.fromkeys(
        ("one-level", "graded", "largest-low", "top-heavy", "hidden", "doubled", "lost", "under-greens"), _place_again
    ),
    **dict.fromkeys(("not-carried", "side-by-side"), _place_again),
    **dict.fromkeys(("aside", "unlike", "no-drop", "no-thirds", "middle-closed", "no-blocks"), _place_again),
    **dict.fromkeys(("through", "holes"), _place_again),
}
