"""Faults in what stems and containers are: the piece is placed and cut once more with them."""

from collections.abc import Callable, Mapping

from mirvel.core.goods.container import ContainerKind
from mirvel.core.goods.facts import HeadForm, Mechanics
from mirvel.core.goods.material import Fitness, Material
from mirvel.core.judging.check import Judged
from mirvel.core.placing.holders import get_foam_seen
from mirvel.core.placing.places import Place
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.spoiling.fault import Fault
from mirvel.core.spoiling.working import build_again, change_container, change_materials

Facts = Mapping[str, object]
_LEAST_PIECES, _LEAST_AT_SIDE, _DEEP_CM = 24, 5, 14.0
_FIRM_DEG, _MANY_DAYS = 30.0, 6.0  # what stands so firmly, or so deep in water, no foot or vessel spoils


def _in_stems(suits: Callable[[Judged], bool], change: Callable[[Material, int], Facts], **recipe: object) -> Fault:
    """A fault in facts of all stems, with something of the recipe changed too."""

    def spoil(judged: Judged, strength: int) -> Judged:
        goods = change_materials(judged, lambda material: change(material, strength))
        return build_again(judged, recipe=judged.recipe.model_copy(update=recipe), goods=goods)

    return Fault(suits, spoil)


def _in_some(suits: Callable[[Judged], bool], facts: Facts) -> Fault:
    """A fault in facts of one of its stems, two, three."""

    def spoil(judged: Judged, strength: int) -> Judged:
        slugs = sorted({place.material.slug for place in judged.build.places if place.material.drinks})[:strength]
        return build_again(judged, goods=change_materials(judged, lambda each: facts if each.slug in slugs else {}))

    return Fault(suits, spoil)


def _thicken(*times: float) -> Callable[[Material, int], Facts]:
    return lambda material, strength: {"stem_diameter_mm": min(60.0, material.stem_diameter_mm * times[strength - 1])}


def _shorten(judged: Judged, strength: int) -> Judged:
    """Stems are as long as the longest of their cuts, half so long, a third."""
    needs: dict[str, float] = {}
    for cut in judged.build.cuts:
        slug, share = cut.place.material.slug, cut.total_cm / cut.place.head.stem_length_cm
        needs[slug] = max(needs.get(slug, 0.0), share)

    def change(material: Material) -> Facts:
        share = (1.02, 0.5, 0.3)[strength - 1] * needs.get(material.slug, 1.0)
        return {"stem_length_cm": min(200.0, max(1.0, share * material.stem_length_cm)), "longest_stem_cm": None}

    return build_again(judged, goods=change_materials(judged, change))


def _lengthen_heads(material: Material, strength: int) -> Facts:
    """Spikes and sprays are half as long again, four times, eight times."""
    longer = min(120.0, material.head_length_cm * (1.5, 4.0, 8.0)[strength - 1])
    return {"head_length_cm": longer} if material.is_axial and material.is_bloom else {}


def _in_foam(judged: Judged) -> bool:
    """Whether many stems that drink stand in foam."""
    drink = [place for place in judged.build.places if place.material.drinks]
    return judged.recipe.mechanics is Mechanics.FOAM and len(drink) >= _LEAST_PIECES


def _goes_in_at_its_side(judged: Judged) -> bool:
    proud = judged.recipe.foam_above_rim_cm
    at_side = [each for each in judged.build.places if each.start.z < proud - 1e-6 and not each.is_inside]
    return _in_foam(judged) and not judged.build.bed and len(at_side) >= _LEAST_AT_SIDE


def _may_be_thin(judged: Judged) -> bool:
    """Whether its foam is as thick as what it lies in is deep."""
    is_block = judged.taken.container.kind is ContainerKind.VINE_WREATH
    return _in_foam(judged) and not (is_block or judged.sizing.form.lies)


def _cannot_stand(judged: Judged) -> bool:
    """Whether nothing can stand upright in it by itself."""
    form = judged.sizing.form
    has_foam = get_foam_seen(judged.recipe, judged.build.container) is not None
    return (form.hangs or form.lies or not has_foam) and not judged.taken.assemblies


def _set_big_in_thin(judged: Judged, strength: int) -> Judged:
    """Foam 5 cm thick, and one kind of flower 11 cm wide in it, 14, 18."""
    wide, big = (11.0, 14.0, 18.0)[strength - 1], judged.heads[0].material.slug
    wider = {"head_tight_cm": wide, "head_open_cm": wide}
    stems = change_materials(judged, lambda material: wider if material.slug == big else {})
    shallow = change_container(judged, depth_cm=max(0.5, 5.0 - judged.recipe.foam_above_rim_cm))
    return build_again(
        judged, recipe=_unblock(judged), goods=stems.model_copy(update={"containers": shallow.containers})
    )


def _lay_thin_foam(judged: Judged, strength: int) -> Judged:
    """Foam 2.2 cm thick, 1.4, 1.1."""
    thick, above = (2.2, 1.4, 1.1)[strength - 1], 0.0 if judged.build.bed else 0.3
    recipe = _unblock(judged).model_copy(update={"foam_above_rim_cm": above})
    return build_again(judged, recipe=recipe, goods=change_container(judged, depth_cm=thick - above))


def _unblock(judged: Judged) -> Recipe:
    return judged.recipe.model_copy(update={"foam_block": None})


def _stands(judged: Judged) -> bool:
    """Whether it stands on a foot of its own."""
    return not (judged.build.bed or judged.sizing.form.lies or judged.taken.container.kind is ContainerKind.TIE)


def _stands_in_little_water(judged: Judged) -> bool:
    water = judged.build.water
    return _stands(judged) and water.first is not None and water.days is not None and water.days < _MANY_DAYS


def _narrow_foot(judged: Judged, strength: int) -> Judged:
    """It stands on a foot a seventh narrower, of a third of the width, of a seventh."""
    foot = judged.taken.container.base_cm * (0.85, 0.33, 0.15)[strength - 1]
    return build_again(judged, goods=change_container(judged, base_cm=max(0.5, foot)))


def _fill_less(judged: Judged, strength: int) -> Judged:
    """It stands in a vessel a fifth narrower, of half the width, a third; filled half, somebody tops it up."""
    vessel, times = judged.taken.container, (0.8, 0.5, 0.33)[strength - 1]
    facts = {"mouth_cm": vessel.mouth_cm * times, "base_cm": max(1.0, vessel.base_cm * times), "belly_cm": None}
    recipe = judged.recipe.model_copy(update={"brief": judged.recipe.brief.change(refilled=True)})
    goods = change_container(judged, water_ml=vessel.water_ml * times**2 / 2, **facts)
    return build_again(judged, recipe=recipe, goods=goods)


def _stands_in_deep_water(judged: Judged) -> bool:
    is_wet = judged.recipe.mechanics not in {Mechanics.FOAM, Mechanics.TIED}
    return is_wet and judged.taken.container.depth_cm > _DEEP_CM and any(_is_twig(each) for each in judged.build.places)


def _is_twig(place: Place) -> bool:
    return place.material.is_leaf and place.material.drinks and not place.is_inside


def _take_single_leaves(judged: Judged, strength: int) -> Judged:
    """Its greens are single leaves with a blade of 4 cm, 45, 80."""
    greens = {place.material.slug for place in judged.build.places if _is_twig(place)}
    blade = {"form": HeadForm.STRAP, "habit": "broad", "head_length_cm": (4.0, 45.0, 80.0)[strength - 1]}
    return build_again(judged, goods=change_materials(judged, lambda each: blade if each.slug in greens else {}))


def _live_short(judged: Judged, strength: int) -> Judged:
    """One kind of flower is over a week before the others, ten days, two weeks; no days are promised."""
    lives = {p.material.slug: p.material.life_min_days for p in judged.blooms if p.material.drinks}
    first, apart = next(iter(lives)), (6, 10, 14)[strength - 1]

    def change(material: Material) -> Facts:
        if material.slug == first:
            return {"life_min_days": 2, "life_max_days": None}
        return {"life_min_days": 2 + apart, "life_max_days": None} if material.slug in lives else {}

    brief = judged.recipe.brief.change(lasts_days=0, service=None)
    recipe = judged.recipe.model_copy(update={"brief": brief})
    return build_again(judged, recipe=recipe, goods=change_materials(judged, change))


def _has_two_kinds(judged: Judged) -> bool:
    return len({place.material.slug for place in judged.blooms if place.material.drinks}) > 1


GOODS_FAULTS: Mapping[str, Fault] = {
    "short": Fault(lambda judged: bool(judged.build.cuts) and not judged.taken.assemblies, _shorten),
    "stripped": _in_stems(
        lambda judged: (
            not judged.sizing.form.covers_frame
            and any(each.material.is_axial and each.material.drinks and not each.zone for each in judged.blooms)
        ),
        _lengthen_heads,
    ),
    "shallow": Fault(_may_be_thin, _lay_thin_foam),
    "soft": _in_some(_in_foam, {"in_foam": Fitness.NO}),
    "square-edges": _in_stems(
        _goes_in_at_its_side,
        lambda _, strength: {"stem_diameter_mm": (7.5, 9.0, 12.0)[strength - 1]},
        foam_bevelled=False,
    ),
    "big-in-thin": Fault(
        lambda judged: _in_foam(judged) and not judged.build.bed and bool(judged.heads), _set_big_in_thin
    ),
    "mouth": _in_stems(lambda judged: judged.build.base.mouth_passes is not None, _thicken(1.5, 5.0, 10.0)),
    "through": _in_stems(_in_foam, _thicken(2.0, 5.0, 8.0)),
    "holes": _in_stems(_in_foam, _thicken(2.0, 5.0, 8.0)),
    "upright": _in_some(_cannot_stand, {"form": HeadForm.SPIKE, "habit": "candle"}),
    "tips": Fault(lambda judged: _stands(judged) and judged.build.standing.tip_deg < _FIRM_DEG, _narrow_foot),
    "top-up": Fault(_stands_in_little_water, _fill_less),
    "leaf-in-water": Fault(_stands_in_deep_water, _take_single_leaves),
    "lives-apart": Fault(_has_two_kinds, _live_short),
}
