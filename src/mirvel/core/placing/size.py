"""How large the piece is: by rule, as the recipe says, or as its flowers allow.

A height rule names its factor, what it multiplies, and the base it is measured from (table or rim). The width
follows the flowers: the form is as wide as its blooms fill at the shop's target fullness, within proportions
that still read as the form. Fullness is the sum of head footprints over the form's area. By rule a piece people
talk across never passes the sight-line, nor a basket its handle; ``capped_by`` says which limit took effect.
"""

import math
from bisect import bisect_left
from collections.abc import Callable
from dataclasses import dataclass

from mirvel.core.forms.covering import get_over_cm
from mirvel.core.forms.form import Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.forms.surface import Frame, Surface
from mirvel.core.goods.container import Container
from mirvel.core.house.design import HeightBase, HeightOf, HeightRule
from mirvel.core.house.rules import HouseRules
from mirvel.core.recipe.recipe import Density, Recipe, SizeMode
from mirvel.core.values.problems import BadInput, Problem
from mirvel.core.vessels.beds import get_bed, has_bed

LEAST_ABOVE_RIM_CM = 3.0
MOST_OVER_FRAME_CM = 20.0  # assumption of ours: thin foam holds no longer stems
# Seated eye 685 mm over a 440 mm seat, less a 740 mm table (source: bodyspace, from memory).
SIGHT_LINE_CM = 38.5
OVER_THE_MOUTH = 1.08
AIRY_DENSITY, AIRY_WIDTH = 0.3, 0.65  # few stems: a third of the heads, and drawn in (assumptions of ours)
_WIDTH_STEP_CM = 0.5
_LEAST_HALF_CM = 1.0
_ANY_AMOUNT_CM2 = 1e7


@dataclass(frozen=True)
class Sizing:
    """The size a recipe comes out at, and how full that is (1 = footprints equal the surface)."""

    form: Form
    frame: Frame
    overall_height_cm: float
    fullness: float
    thin_below: float
    crowded_above: float
    ruled_height_cm: float
    capped_by: str

    @property
    def surface(self) -> Surface:
        return self.form.get_surface(self.frame)

    @property
    def above_rim_cm(self) -> float:
        return self.frame.above_rim_cm

    @property
    def width_cm(self) -> float:
        return 2 * self.frame.half_width_cm


def get_ruled_height_cm(rule: HeightRule, container: Container) -> float:
    """Overall height, table to tip, that a rule gives with a container."""
    of = container.height_cm
    if rule.of is HeightOf.LARGER_DIMENSION:
        of = max(container.height_cm, container.width_cm)
    return rule.factor * of + (container.rim_height_cm if rule.base is HeightBase.RIM else 0.0)


@dataclass(frozen=True)
class _Filling:
    """What decides a width: the blooms' footprints, how densely they are to stand, in what, in which form."""

    form: Form
    container: Container
    footprints_cm2: float
    target: float
    slimmer: float

    @property
    def least_half_width(self) -> float:
        """Vessels side by side are as wide as they stand, whatever is in them."""
        if self.container.vessels == 1:
            return 0.0
        return max(self.container.vessel_offsets) + self.container.mouth_cm

    def get_frame(self, above: float, half_width: float) -> Frame:
        container, ratio = self.container, self.form.proportions.depth
        bed = get_bed(container) if has_bed(container) else None
        if self.form.covers_frame and bed:
            left, right, front, back = bed.outline.box
            over = get_over_cm(above)
            wide, deep = (right - left) / 2, (back - front) / 2
            return Frame(above, wide + over, deep + over, wide, deep, rim_height_cm=container.rim_height_cm, bed=bed)
        if ratio == 1.0:
            ratio = (1 + container.mouth_ratio) / 2
        mouth = container.mouth_cm / 2
        deep = max(ratio * half_width, mouth * container.mouth_ratio * OVER_THE_MOUTH if self.form.covers else 1.0)
        return Frame(
            above,
            half_width,
            deep,
            mouth,
            mouth * container.mouth_ratio,
            container.vessel_offsets,
            container.rim_height_cm,
            bed,
        )

    def get_limits(self, above: float) -> tuple[float, float]:
        """Narrowest and widest half width."""
        shape, mouth = self.form.proportions, self.container.mouth_cm / 2
        if shape.over_mouth:
            return shape.over_mouth[0] * mouth, shape.over_mouth[1] * mouth
        # Heads reach over the rim of a vase; over a wide dish, whose stems stand in a holder, they need not.
        over = OVER_THE_MOUTH * mouth if self.form.covers else 0.0
        low = max(shape.narrowest * self.slimmer * above, over)
        return low, max(low, shape.widest * self.slimmer * above)

    def is_full(self, above: float, half_width: float) -> bool:
        area = self.form.get_area_cm2(self.get_frame(above, half_width))
        return self.footprints_cm2 >= self.target * area

    def get_half_width(self, above: float) -> float:
        """The half width at which the blooms fill the form, within its proportions and over the rim; a covered frame's
        is its own."""
        if self.form.covers_frame:
            return self.get_frame(above, 0.0).half_width_cm
        if not self.form.covers:
            low, high = self.get_limits(above)
            found = min(high, max(low, self.form.proportions.natural * self.slimmer * above))
            return _step(max(found, self.least_half_width))
        low, high = self.get_limits(above)
        if not self.is_full(above, low) or self.is_full(above, high):
            return _step(high if self.is_full(above, high) else low)
        return max(_LEAST_HALF_CM, _find_widest(low, high, lambda half_width: self.is_full(above, half_width)))

    def get_height(self, most: float) -> float:
        """The height at which blooms fill the form in its natural shape, not above the most."""
        natural = self.form.proportions.natural * self.slimmer
        low, high = LEAST_ABOVE_RIM_CM, max(LEAST_ABOVE_RIM_CM, most)
        if self.is_full(high, natural * high):
            return high
        return max(LEAST_ABOVE_RIM_CM, _find_widest(low, high, lambda above: self.is_full(above, natural * above)))


def _find_widest(low: float, high: float, is_full: Callable[[float], bool]) -> float:
    """The last size that is full, to the nearest step. Only sizes half-way between two steps are asked after, so
    that a recipe which changes a little asks again what has been worked out."""
    steps = range(math.ceil(low / _WIDTH_STEP_CM - 0.5), math.floor(high / _WIDTH_STEP_CM - 0.5) + 1)
    full = bisect_left(steps, True, key=lambda step: not is_full((step + 0.5) * _WIDTH_STEP_CM))
    return (steps.start + full) * _WIDTH_STEP_CM


def _step(half_width: float) -> float:
    return max(_LEAST_HALF_CM, round(half_width / _WIDTH_STEP_CM) * _WIDTH_STEP_CM)


def get_sizing(recipe: Recipe, container: Container, footprints_cm2: float, rules: HouseRules) -> Sizing:
    """The size of a recipe whose blooms show ``footprints_cm2`` in all.

    Raises BadInput when the form cannot stand in the container or the height leaves no room above the rim.
    """
    size, form = recipe.size, FORMS[recipe.form]
    check_form_stands(form, container)
    airy = size.density is Density.AIRY
    density = AIRY_DENSITY if airy else 1.0
    filling = _Filling(form, container, footprints_cm2, rules.target_fullness * density, AIRY_WIDTH if airy else 1.0)
    ruled, capped_by = get_ruled_height_cm(size.rule, container), ""
    if size.mode is SizeMode.OWN and size.own_height_cm and size.own_width_cm:
        above = _get_room_above(size.own_height_cm, container, "size, own height")
        half_width = max(size.own_width_cm / 2, filling.least_half_width)
        if form.covers_frame:
            half_width = filling.get_half_width(above)
        elif form.proportions.over_mouth:  # as wide as its mouth, whatever is asked
            low, high = filling.get_limits(above)
            half_width = min(high, max(low, half_width))
    else:
        most, capped_by = _cap(ruled, recipe, form, container)
        above = _get_room_above(most, container, "size, rule, factor")
        if size.mode is SizeMode.FROM_FULLNESS and form.covers and not form.is_as_large_as_its_container:
            above = filling.get_height(above)
        half_width = filling.get_half_width(above)
    _check_stands_over_frame(form, container, above)
    frame = filling.get_frame(above, half_width)
    return Sizing(
        form=form,
        frame=frame,
        overall_height_cm=container.rim_height_cm + above,
        fullness=footprints_cm2 / form.get_area_cm2(frame),
        thin_below=(form.fullness or (rules.thin_below, 0.0))[0] * density if form.covers else 0.0,
        crowded_above=form.fullness[1] if form.fullness else rules.crowded_above,
        ruled_height_cm=ruled,
        capped_by=capped_by,
    )


def _check_stands_over_frame(form: Form, container: Container, above: float) -> None:
    """Raises BadInput where flowers on a covered frame would stand on stems too long for its thin foam."""
    if form.covers_frame and above > MOST_OVER_FRAME_CM:
        message = f"flowers would stand {above:.0f} cm above the foam of {container.name}."
        mend = f"Make it at most {container.rim_height_cm + MOST_OVER_FRAME_CM:g} cm over all as it lies."
        raise BadInput(Problem("size", message, mend))


def get_footprint_range_cm2(recipe: Recipe, container: Container, rules: HouseRules) -> tuple[float, float]:
    """The footprints below which the piece reads thin at its narrowest, and above which crowded at its widest; 0 and
    infinity where the form is not meant to close. Raises BadInput."""
    if not FORMS[recipe.form].covers:
        return 0.0, math.inf
    narrow, wide = (get_sizing(recipe, container, footprints, rules) for footprints in (0.0, _ANY_AMOUNT_CM2))
    areas = [each.form.get_area_cm2(each.frame) for each in (narrow, wide)]
    return narrow.thin_below * areas[0], wide.crowded_above * areas[1]


def check_form_stands(form: Form, container: Container) -> None:
    """Raises BadInput where a form cannot be made in a container."""
    if not form.takes(container):
        mend = f"Choose another container, or a form that {container.name} takes."
        raise BadInput(Problem("container", f"{form.name} cannot be made in “{container.name}”.", mend))


def _cap(ruled: float, recipe: Recipe, form: Form, container: Container) -> tuple[float, str]:
    """The ruled height and what took it down, if anything did."""
    limits = [(ruled, "")]
    if recipe.brief.across_table and container.rim_height_cm + LEAST_ABOVE_RIM_CM <= SIGHT_LINE_CM:
        limits.append((SIGHT_LINE_CM, "the sight-line"))
    most = form.most_above(container)
    if most is not None:
        limits.append((container.rim_height_cm + most, "the handle"))
    return min(limits)


def _get_room_above(overall_cm: float, container: Container, field: str) -> float:
    rim = container.rim_height_cm
    above = overall_cm - rim
    if above < LEAST_ABOVE_RIM_CM:
        message = f"{overall_cm:.1f} cm over all leaves {above:.1f} cm above a rim {rim:g} cm high."
        mend = f"Make it at least {rim + LEAST_ABOVE_RIM_CM:g} cm over all, or choose a lower container."
        raise BadInput(Problem(field, message, mend))
    return round(above, 6)
