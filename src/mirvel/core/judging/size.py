"""Checks of size: height and width against the rule, the brief and what the flowers give, and stems that reach."""

from collections.abc import Iterator

from mirvel.core.goods.heads import get_growth_cm
from mirvel.core.house.design import SeenFrom
from mirvel.core.judging.check import Checks, Family, Found, Judged, Severity, Source
from mirvel.core.making.cuts import Cut
from mirvel.core.placing.depths import get_out_cm
from mirvel.core.placing.places import Place
from mirvel.core.placing.size import SIGHT_LINE_CM
from mirvel.core.recipe.recipe import SizeMode
from mirvel.core.space.vectors import Vec

CHECKS = Checks(Family.SIZE)
_WIDTH_TOLD_CM = 0.5  # widths go by steps of 1 cm
_HEIGHT_TOLD_CM = 0.5
LEAST_SHOWN = 1 / 3  # of a spike’s flower; assumption
MOST_OUT_CM = 6.0  # "loosened: pass by 2 to 6 cm": common practice, no published source
LOW_PIECE_CM = 30.0  # "clearly below 30 cm": common practice, no published source


@CHECKS.add(
    "sight-line",
    Severity.STOP,
    measures="overall height, across a table",
    limit=f"{SIGHT_LINE_CM:g} cm",
    source=Source.PRACTICE,
)
def find_over_the_sight_line(judged: Judged) -> Iterator[Found]:
    """A piece that people talk across and cannot see each other over."""
    height = judged.sizing.overall_height_cm
    if judged.recipe.brief.across_table and height > SIGHT_LINE_CM:
        reason = f"People seated cannot see each other over {judged.say(SIGHT_LINE_CM)}. Lower the height rule."
        yield Found(f"{judged.say(height)} tall, across a table", reason)


@CHECKS.add(
    "low-piece",
    Severity.WARN,
    measures="overall height, across a table",
    limit=f"{LOW_PIECE_CM:g} cm",
    source=Source.PRACTICE,
)
def find_nearly_in_the_sight_line(judged: Judged) -> Iterator[Found]:
    """A low table piece that is not clearly low."""
    height = judged.sizing.overall_height_cm
    if judged.recipe.brief.across_table and LOW_PIECE_CM <= height <= SIGHT_LINE_CM:
        reason = f"A low table piece stays clearly below {judged.say(LOW_PIECE_CM)}."
        yield Found(f"{judged.say(height)} tall, across a table", reason)


@CHECKS.add(
    "grows",
    Severity.WARN,
    measures="overall height on the last day asked for, with what tulips and the like grow by then",
    limit=f"{SIGHT_LINE_CM:g} cm, across a table",
    source=Source.PRACTICE,
)
def find_growing_past(judged: Judged) -> Iterator[Found]:
    """Flowers that grow on into the sight-line before the last day."""
    brief, build = judged.recipe.brief, judged.build
    if not brief.across_table or build.overall_height_cm > SIGHT_LINE_CM:
        return
    last = int(brief.promised_days)
    grown = [
        (place, top)
        for place in build.places
        for by in [get_growth_cm(place.material, last)]
        for top in [build.table_cm + place.tip.z + by]
        if by > 0 and top > SIGHT_LINE_CM
    ]
    if grown:
        highest = max(top for _, top in grown)
        names = ", ".join(sorted({place.material.name for place, _ in grown}))
        reason = (
            f"{names}: up to {judged.say(highest)} from the table after {last} days. Cut them lower, or use others."
        )
        yield Found("Grows into the sight-line", reason, places=tuple(place for place, _ in grown))


@CHECKS.add(
    "grows-out",
    Severity.NOTE,
    measures="how far flowers stand outside the outline on the last day asked for, by what they grow until then",
    limit=f"{MOST_OUT_CM:g} cm",
    source=Source.PRACTICE,
)
def find_growing_out(judged: Judged) -> Iterator[Found]:
    """Flowers that grow on out of the outline before the last day."""
    sizing, last = judged.sizing, int(judged.recipe.brief.promised_days)
    if not sizing.surface.lobes or judged.recipe.brief.across_table:
        return
    sign = -1.0 if judged.recipe.arranging.mirrored else 1.0
    grown = [(place, get_growth_cm(place.material, last)) for place in judged.blooms]
    outs = [
        (place, get_out_cm(place.tip.times(Vec(sign, 1.0, 1.0)), sizing.surface) + by) for place, by in grown if by > 0
    ]
    far = tuple(place for place, out in outs if out > MOST_OUT_CM)
    if far:
        names = ", ".join(sorted({place.material.name for place in far}))
        most = judged.say(max(out for _, out in outs))
        reason = f"{names}: up to {most} outside of it after {last} days. Set them deeper to begin with, or use others."
        yield Found("Grows out of the outline", reason, places=far)


@CHECKS.add(
    "size-capped",
    Severity.NOTE,
    measures="overall height against its rule",
    limit="what caps it",
    source=Source.PRACTICE,
)
def find_capped(judged: Judged) -> Iterator[Found]:
    """A piece that is kept lower than its rule gives."""
    sizing = judged.sizing
    if sizing.capped_by:
        title = f"{judged.say(sizing.overall_height_cm)} tall, kept under {sizing.capped_by}"
        reason = f"The height rule gives {judged.say(sizing.ruled_height_cm)}. Give the piece an own size if it may "
        yield Found(title, f"{reason}stand higher.")


@CHECKS.add(
    "size-follows-flowers",
    Severity.NOTE,
    measures="overall height against its rule, where the size follows the flowers",
    limit="0.5 cm less",
    source=Source.ASSUMPTION,
)
def find_following_the_flowers(judged: Judged) -> Iterator[Found]:
    """A piece that its flowers fill smaller than its rule gives."""
    sizing = judged.sizing
    if (
        judged.recipe.size.mode is SizeMode.FROM_FULLNESS
        and not sizing.capped_by
        and sizing.overall_height_cm < sizing.ruled_height_cm - _HEIGHT_TOLD_CM
    ):
        full, ruled = judged.say(sizing.overall_height_cm), judged.say(sizing.ruled_height_cm)
        reason = "The flowers this price buys fill a smaller piece than the height rule gives."
        yield Found(f"Full at {full}, not at the ruled {ruled}", reason)


@CHECKS.add(
    "width-held",
    Severity.NOTE,
    measures="width asked for against the width built",
    limit="0.5 cm apart",
    source=Source.RECIPE,
)
def find_held_width(judged: Judged) -> Iterator[Found]:
    """An own width that the form, or what it stands in, does not give."""
    sizing, asked = judged.sizing, judged.recipe.size.own_width_cm
    if judged.recipe.size.mode is not SizeMode.OWN or asked is None or abs(asked - sizing.width_cm) < _WIDTH_TOLD_CM:
        return
    form, wanted = sizing.form, "wider" if asked > sizing.width_cm else "narrower"
    reason = "Vessels side by side are that wide whatever is in them. Take fewer, or narrower ones."
    if form.covers_frame:
        reason = f"The form {form.name} covers its frame and is as wide as that. Take a {wanted} frame."
    elif form.proportions.over_mouth:
        least, most = form.proportions.over_mouth
        reason = (
            f"The form {form.name} is {least:g} to {most:g} times as wide as the mouth it stands in. Take a container "
            f"with a {wanted} mouth, or another form."
        )
    yield Found(f"Not {judged.say(asked)} wide, as asked", reason)


@CHECKS.add(
    "short", Severity.WARN, measures="cut against the stem it is cut from", limit="no longer", source=Source.RECIPE
)
def find_short_stems(judged: Judged) -> Iterator[Found]:
    """Places that need longer stems than their pieces have."""
    short: dict[str, list[Cut]] = {}
    for cut in judged.build.cuts:
        if cut.is_too_long:
            short.setdefault(cut.place.material.name, []).append(cut)
    for name, found in short.items():
        longest = judged.say(max(cut.total_cm for cut in found))
        has = judged.say(min(cut.place.head.stem_length_cm for cut in found))
        reason = f"A place needs {longest} with its head; the piece has {has}. Lower the height, or use whole stems."
        places = tuple(cut.place for cut in found)
        yield Found(f"{name}: {len(found)} too short", reason, places[0].entry.id, places)


@CHECKS.add(
    "stripped",
    Severity.NOTE,
    measures="share of a spike or spray that stands clear to be seen",
    limit="a third",
    source=Source.ASSUMPTION,
)
def find_stripped(judged: Judged) -> Iterator[Found]:
    """Spikes and sprays of which less than a third stands clear to be seen: they are paid for whole."""
    shown: dict[str, list[Place]] = {}
    for place in judged.build.places:
        if place.is_stripped and place.shown_length_cm < LEAST_SHOWN * place.head.length_cm:
            shown.setdefault(place.entry.id, []).append(place)
    for entry_id, places in shown.items():
        least, whole = judged.say(min(each.shown_length_cm for each in places)), judged.say(places[0].head.length_cm)
        reason = (
            f"{least} of {whole} shows at the least, the rest is stripped. Take fewer or shorter ones, side pieces, or "
            "make the piece larger."
        )
        title = f"{len(places)} {places[0].material.name} {'shows' if len(places) == 1 else 'show'}"
        yield Found(f"{title} less than a third of the flower", reason, entry_id, tuple(places))


@CHECKS.add("places", Severity.WARN, measures="pieces against the form's places", limit="no more", source=Source.RECIPE)
def find_too_many_for_the_form(judged: Judged) -> Iterator[Found]:
    """More pieces than a form of so many places has."""
    form, pieces = judged.sizing.form, len(judged.build.cuts)
    if form.only_listed and pieces > (places := len(judged.sizing.surface.lattice.sites)):
        reason = f"The form {form.name} has {places} places; what is over stands on top of others. Take pieces out."
        yield Found(f"{pieces} pieces for {places} places", reason)


@CHECKS.add(
    "seen-from", Severity.NOTE, measures="sides it is seen from", limit="those it is made for", source=Source.RECIPE
)
def find_one_sided(judged: Judged) -> Iterator[Found]:
    """A form for one side only, where it is seen all round."""
    form = judged.sizing.form
    if judged.recipe.brief.seen_from is SeenFrom.ALL_ROUND and form.seen_from is SeenFrom.FRONT:
        reason = f"The brief is for all round; {form.name} is seen from the front. Choose an all-round form for there."
        yield Found("Made for one side only", reason)


@CHECKS.add(
    "transport",
    Severity.WARN,
    measures="how high it stands",
    limit="what the shop's car takes, where it says so",
    source=Source.HOUSE,
)
def find_too_tall_to_carry(judged: Judged) -> Iterator[Found]:
    """A piece that stands higher than it can be driven upright; what hangs is driven lying, off its stand."""
    most, high = judged.rules.transport_cm, judged.build.overall_height_cm
    if most is not None and high > most and not judged.sizing.form.hangs:
        reason = f"The car takes {judged.say(most)}. Make it lower, or finish it where it stands."
        yield Found(f"{judged.say(high)} tall, too tall to drive", reason)
