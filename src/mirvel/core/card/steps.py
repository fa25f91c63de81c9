"""The order of work for one recipe, as the steps on its card."""

import math
from dataclasses import dataclass
from fractions import Fraction

from mirvel.core.goods.facts import Lengthened, Mechanics, Role
from mirvel.core.making.ribbon import END_CM
from mirvel.core.placing.holders import get_wanted_block
from mirvel.core.placing.order import get_build_order
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.meant_words import describe_meant
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.units import format_length
from mirvel.core.vessels.hollows import BEVEL_CM, END_UNDER_WATER_CM, get_fill_depth_cm
from mirvel.core.working import Worked

_TOPPED_UP_DAYS = 7.0  # water that lasts longer is changed before it is gone (assumption)
_UNDER_CM = 0.5  # foam that ends so little over the floor stands on it
MOST_TOLD = 4  # tokens whose places are told one by one
_LENGTHENING = {  # common practice, no published source
    Lengthened.LEAF: " Wind the leaf up the stem and on below its foot, bind it three times; keep the foot in water.",
    Lengthened.TUBE: " Fill a tube before its bloom goes in, and again every day.",
}
_HOW = {
    Role.GREENERY: "Two thirds as a ring leaning out over the rim so that the mechanics are hidden, the rest between.",
    Role.LINE: "Tallest first; it sets the height and nothing passes it. Step the next ones down round the piece.",
    Role.FOCAL: "Spread round at different levels, facing out, never two side by side at one level.",
    Role.MASS: "All round, some further out and some further in. Turn the piece after every stem.",
    Role.FILLER: "Into the gaps, carried right round; hold pieces back for the last holes.",
    Role.TEXTURE: "Last, a little proud of the flowers, so that the outline is not too even.",
    Role.TRAILING: "Low at the rim, so that it hangs of its own weight; nothing behind it pushes it up.",
    Role.TOKEN: "Clear of the flowers; tie or pin it so that it cannot shift.",
}
_HOW_ON_FRAMES = {
    Role.TOKEN: "First, wired through the foam or tied to the frame; flowers are worked round it, not under it.",
    Role.GREENERY: "All round the edge, low, over the side of the foam and its base; the rest between, leaving room.",
    Role.LINE: "The points of the outline: foot and head, then the sides in pairs, kept near. Nothing passes them.",
    Role.FOCAL: "The best in the middle, the others from there, facing out, in pairs where its halves are alike.",
    Role.MASS: "Close and nearly level; look from where it is seen after every few. No stem through the back.",
}


@dataclass(frozen=True)
class Step:
    """One step of the card: a title, what to do, and the entries it places."""

    title: str
    text: str
    entries: tuple[Entry, ...] = ()


def get_steps(worked: Worked) -> tuple[Step, ...]:
    """Set-up, breaking down, one step per run of entries in build order with delicate blooms last, and the check."""
    return (
        get_set_up(worked),
        *_get_made_ahead(worked),
        *_get_break_down(worked),
        *_get_placing(worked),
        *_get_ribbon(worked),
        _get_last_look(worked),
        *_get_hand_over(worked),
    )


def get_set_up(worked: Worked) -> Step:
    """What is done before the first stem goes in."""
    unit, container = worked.rules.unit, worked.build.container
    liner = "Lay the liner in, so that nothing leaks. " if container.needs_liner else ""
    if worked.build.bed:
        return Step("Set up", liner + _get_frame_set_up(worked) + _say_bare(worked.recipe))
    if worked.recipe.mechanics is Mechanics.FOAM:
        proud = format_length(worked.recipe.foam_above_rim_cm, unit)
        text = (
            f"Cut {_say_foam(worked)} to stand {proud} above the rim; float it until it has sunk "
            f"by itself, tape it in. {_say_bevel(worked)}A hole is used once; never pull a stem back up."
        ) + _say_bare(worked.recipe)
    elif worked.recipe.mechanics is Mechanics.PIN_HOLDER:
        depth = format_length(get_fill_depth_cm(container), unit)
        text = (
            "Fix the pin holder to the clean, dry floor with putty, pins up, clear of hands. "
            f"Fill with {depth} of clean, lukewarm water, over the pins."
        ) + _say_top_up(worked)
    elif worked.recipe.mechanics is Mechanics.TIED:
        stem = format_length(container.depth_cm, unit)
        text = (
            "Strip every stem below the tie. Lay each across the last, all one way round, so that they spiral through "
            f"one point; tie there, cut level {stem} below it. It should stand by itself."
        )
    else:
        depth = format_length(get_fill_depth_cm(container), unit)
        grid = ""
        if worked.recipe.mechanics is Mechanics.TAPE_GRID:
            tape = worked.build.base.grid
            strips = f"{tape.strips_each_way} strips each way and " if tape else ""
            grid = f"Dry the rim and lay the tape grid, {strips}one strip round the edge. "
        if worked.recipe.mechanics is Mechanics.NETTING:
            grid = "Ball the wire netting loosely into the mouth, its ends bent in. "
        under = format_length(END_UNDER_WATER_CM, unit)
        text = f"{grid}Fill with {depth} of clean, lukewarm water. Every stem ends {under} or more under it."
        text += _say_top_up(worked)
    return Step("Set up", liner + text)


def _say_top_up(worked: Worked) -> str:
    """When a vase is filled up again, before its first stem is dry."""
    days = worked.build.water.days
    if days is None:
        return ""
    often = "twice a day" if days < 1 else "every day" if days < 2 else f"every {math.floor(days)} days"
    return f" Top it up {often}, before the first stem hangs in air." if days < _TOPPED_UP_DAYS else ""


def _say_bevel(worked: Worked) -> str:
    if not worked.recipe.foam_bevelled:
        return ""
    bevel = format_length(BEVEL_CM, worked.rules.unit)
    return f"Bevel its upper edges by {bevel}, so that thick stems do not break them. "


def _say_bare(recipe: Recipe) -> str:
    """What to mind where foam is left bare."""
    return " Foam may show: take dark foam and cut it clean." if recipe.foam_may_show else ""


def _say_foam(worked: Worked) -> str:
    """The foam to cut: the block of a brick and how it is set in, or what fills the container."""
    container, unit, foam = worked.build.container, worked.rules.unit, worked.build.base.foam
    block = get_wanted_block(worked.recipe, container)
    if foam is None:
        return f"the foam for the {container.name}"
    if block is None:
        return f"the foam for the {container.name}, {_say_bricks(foam.bricks)} in all,"
    size = (foam.top_cm[0], foam.top_cm[1], foam.height_cm)
    sides = " × ".join(format_length(each, unit, with_unit=False) for each in size)
    share = {1: "a whole brick", 2: "half a brick", 8: "an eighth of a brick"}.get(
        block.part.parts, f"a {block.part.value} of a brick"
    )
    floats = foam.height_cm < container.depth_cm + worked.recipe.foam_above_rim_cm - _UNDER_CM
    held = " wedged or raised so that it cannot sink," if floats else ""
    stands = f"set in {block.lie.value}, {sides} {unit.value} as it stands"
    return f"{share} of foam for the {container.name}, {stands},{held}"


def _is_dry(worked: Worked) -> bool:
    """Whether nothing in a piece drinks."""
    return not worked.build.water.a_day_ml


def _say_bricks(bricks: Fraction) -> str:
    """How much foam, in words: "3/4 of a brick", "2 bricks"."""
    return f"{bricks} bricks" if bricks > 1 else "1 brick" if bricks == 1 else f"{bricks} of a brick"


def _get_frame_set_up(worked: Worked) -> str:
    """Foam into the frame without a gap, wrapped, soaked, tied; depths across thin foam."""
    container, unit, standing = worked.build.container, worked.rules.unit, worked.build.standing
    parts = []
    for cut in worked.build.base.foam.cuts if worked.build.base.foam else ():
        size = " × ".join(format_length(each, unit, with_unit=False) for each in cut.size_cm)
        runs = ", ".join(f"{count} in the {name}" for name, count in cut.runs)
        parts.append(
            f"Cut foam in {cut.name}s of a brick ({size} {unit.value}, {_say_bricks(cut.bricks)} in all) "
            f"and lay them without a gap, end to end along the middle: {runs}."
        )
    if container.foam_included:
        parts.append(f"The {container.name} comes with its foam.")
    if standing.foam_g:
        parts.append("Soak it floating, face down, until it has sunk by itself.")
        if not container.foam_included:
            parts.append("Wrap the foam once round and tape it in; leave its top open.")
    else:
        parts.append("The foam stays dry and is tied at two points.")
    if standing.ties:
        at = ", ".join(standing.ties)
        parts.append(f"Tie it to its stand ({worked.build.stand.name}) at {at}; trim the ends and turn them in.")
    deep = max((cut.inside_cm for cut in worked.build.cuts), default=0.0)
    parts.append(
        f"Every stem goes in at an angle, {format_length(deep, unit)} at most, never through the back; a hole is used "
        "once."
    )
    return " ".join(parts)


def _get_made_ahead(worked: Worked) -> tuple[Step, ...]:
    made = [each for each in worked.assembled if each.pieces]
    if not made:
        return ()
    names = "; ".join(f"{each.pieces} {each.name} (keeps {each.shelf_life_hours} h): {each.parts}" for each in made)
    kinds = {place.material.lengthened for place in worked.build.places}
    how = "".join(words for kind, words in _LENGTHENING.items() if kind in kinds)
    return (Step("Made ahead", f"{names}.{how}"),)


def _get_break_down(worked: Worked) -> tuple[Step, ...]:
    broken = [pull for pull in worked.money.pulls if pull.material.pieces_per_stem > 1 and pull.pieces > pull.stems]
    strip = _say_strip(worked)
    flowers = f" {stripped}." if (stripped := _say_stripped(worked)) else ""
    if not broken:
        return (Step("Strip", f"{strip}{flowers}".strip()),) if strip or flowers else ()
    names = "; ".join(
        f"{pull.material.name} ({pull.colour}): {pull.stems} "
        f"{'stem gives' if pull.stems == 1 else 'stems give'} {pull.pieces} pieces"
        for pull in broken
    )
    return (Step("Break down", f"{names}.{strip} Keep the largest pieces for the outline.{flowers}"),)


def _say_strip(worked: Worked) -> str:
    """What comes off every stem; of a tied bunch its set-up says so."""
    if _is_dry(worked) or worked.recipe.mechanics is Mechanics.TIED:
        return ""
    where = "go into the foam" if worked.recipe.mechanics is Mechanics.FOAM else "stand under water"
    return f" Strip what would {where}."


def _say_stripped(worked: Worked) -> str:
    """How much flower is left on spikes whose lower flowers come off."""
    shown: dict[str, list[float]] = {}
    for place in worked.build.places:
        if place.is_stripped:
            shown.setdefault(f"{place.material.name} ({place.entry.colour})", []).append(place.shown_length_cm)
    unit = worked.rules.unit
    parts = []
    for name, lengths in shown.items():
        least, most = (format_length(each, unit, with_unit=False) for each in (min(lengths), max(lengths)))
        parts.append(f"{least if least == most else f'{least} to {most}'} {unit.value} of {len(lengths)} {name}")
    return f"Strip lower flowers, leave {'; '.join(parts)}" if parts else ""


def _get_placing(worked: Worked) -> tuple[Step, ...]:
    delicate = {place.entry.id for place in worked.build.places if place.material.delicate}
    how = _HOW | _HOW_ON_FRAMES if worked.build.bed else _HOW
    runs: list[tuple[bool, Role, list[Entry]]] = []
    for entry in get_build_order(worked.recipe, delicate, worked.build.sizing.form):
        key = (entry.id in delicate and not worked.recipe.is_built_as_listed, entry.role)
        if entry.placed and runs and runs[-1][:2] == key:
            runs[-1][2].append(entry)
        elif entry.placed:
            runs.append((*key, [entry]))
    return tuple(
        Step(
            f"{role.value.capitalize()}{', delicate' if late else ''}",
            _say_how(worked, how[role], entries),
            tuple(entries),
        )
        for late, role, entries in runs
    )


def _say_how(worked: Worked, usual: str, entries: list[Entry]) -> str:
    """What to do with some entries: as is usual in their role and, of those that are meant otherwise, how."""
    said = [words for entry in entries if (words := say_meant(worked, entry))]
    at = [words for entry in entries if entry.role is Role.TOKEN and (words := _say_where(worked, entry))]
    return " ".join([*([usual] if len(said) < len(entries) else []), *said, *at])


def _say_where(worked: Worked, entry: Entry) -> str:
    """Where the pieces of an entry stand, as far as they are few: “Bow (white) at 6 o’clock, low.”"""
    places = [place for place in worked.build.places if place.entry.id == entry.id]
    where = "; ".join(dict.fromkeys(worked.build.say_place(place) for place in places))
    return f"{places[0].material.name} ({entry.colour}) at {where}." if 0 < len(places) <= MOST_TOLD else ""


def say_meant(worked: Worked, entry: Entry) -> str:
    """What is meant by an entry, as far as its places meet it: “3 Carnation, cream: in a triangle, low.”"""
    unmet = {met.part for met in worked.build.met.get(entry.id, ()) if not met.is_met}
    names = {each.entry.id: f"{each.material.name} ({each.entry.colour})" for each in worked.build.places}
    words = describe_meant(entry.meant.leave_out(unmet), names, worked.rules.unit)
    if entry.id not in names:
        return ""
    reserve = f"{entry.pieces - entry.placed} more held back in reserve" if entry.meant.held_back else ""
    words = "; ".join(part for part in (words, reserve) if part)
    return f"{entry.placed} {names[entry.id]}: {words}." if words else ""


def _get_ribbon(worked: Worked) -> tuple[Step, ...]:
    unit, lines = worked.rules.unit, []
    for fit in worked.ribbons:
        capital, free = format_length(fit.capital_cm, unit), format_length(END_CM, unit)
        lines.append(f"“{fit.text}” in capitals {capital} high, {free} free at either end")
    if not lines:
        return ()
    return (
        Step("Ribbon", f"{'; '.join(lines)}. Only as it was read back letter by letter; worked round the flowers."),
    )


def _get_hand_over(worked: Worked) -> tuple[Step, ...]:
    if not worked.build.timeline:
        return ()
    times = "; ".join(f"{moment.at:%a %d %b %H:%M} {moment.what}" for moment in worked.build.timeline.moments)
    return (Step("Times", f"{times}. {worked.build.timeline.days:.1f} days without refill."),)


def _get_last_look(worked: Worked) -> Step:
    unit = worked.rules.unit
    high, wide = worked.build.overall_height_cm, worked.build.extent.width_cm
    size = f"{format_length(high, unit)} tall, {format_length(wide, unit)} wide"
    sides = " Side pieces left over go back to stock." if any(pull.left_over for pull in worked.money.pulls) else ""
    count = f"Count {sum(entry.placed for entry in worked.recipe.entries)} pieces; measure {size}."
    if worked.build.sizing.form.hangs or worked.build.bed:
        standing = worked.build.standing
        drain = f" Drain upright {standing.drain_minutes} minutes." if standing.drain_minutes else ""
        weight = f" It weighs about {standing.weight_g / 1000:.1f} kg."
        look = (
            "Look at it as it will hang or stand: no foam, tie or wire showing, both halves alike where they should be."
        )
        mist = "" if _is_dry(worked) else " Mist."
        return Step("Check", f"{look} {count}{mist}{drain}{weight}{sides}")
    look = (
        "no hole, flat side or mechanics showing"
        if worked.build.sizing.form.covers
        else "its open places left open, no tape or wire showing"
    )
    return Step("Check", f"Turn it right round: {look}. {count} Top up, mist.{sides}")
