"""What the stems of a recipe stand in, and how much of a stem that takes at least."""

from dataclasses import replace

from mirvel.core.goods.container import Container, ContainerKind
from mirvel.core.goods.facts import Mechanics
from mirvel.core.house.design import FoamBlock, FoamLie, FoamPart
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.vessels.beds import Bed, get_bed, has_bed
from mirvel.core.vessels.bricks import get_block_cm
from mirvel.core.vessels.hollows import (
    FOAM_DEPTH_CM,
    Hollow,
    get_foam,
    get_foam_block,
    get_inside,
    get_least_drop_cm,
    get_pin_holder,
)

_HEIGHT_OF = {FoamLie.FLAT: 2, FoamLie.SIDE: 1, FoamLie.UPRIGHT: 0}  # which side of the brick stands up


def get_holder(recipe: Recipe, container: Container, vessel: int = 0) -> Hollow | Bed:
    """What the stems of a recipe stand in: a frame's bed, its foam, its pin holder, or the inside of its container."""
    if has_bed(container):
        return get_bed(container)
    if recipe.mechanics is Mechanics.FOAM:
        return get_block(recipe, container)
    if recipe.mechanics is Mechanics.PIN_HOLDER:
        return get_pin_holder(container)
    inside = get_inside(container, vessel)
    return replace(inside, wall_cm=0.0) if recipe.mechanics is Mechanics.TIED else inside  # a tie has no rim


def get_block(recipe: Recipe, container: Container) -> Hollow:
    """The foam in a container: the block its designer cuts, half a brick in a horn, else all that its mouth takes."""
    above, block = recipe.foam_above_rim_cm, get_wanted_block(recipe, container)
    if block is None:
        return get_foam(container, above)
    return get_foam_block(container, above, get_block_cm(block.part.parts, _HEIGHT_OF[block.lie]))


def get_wanted_block(recipe: Recipe, container: Container) -> FoamBlock | None:
    """The block of foam a recipe takes; "a horn half a brick": common practice, no published source."""
    return recipe.foam_block or (FoamBlock(part=FoamPart.HALF) if container.kind is ContainerKind.HORN else None)


def get_foam_seen(recipe: Recipe, container: Container) -> Hollow | Bed | None:
    """The foam that would be seen if nothing hid it; none where there is none."""
    if not has_bed(container) and recipe.mechanics is not Mechanics.FOAM:
        return None
    return get_holder(recipe, container)


def get_least_inside_cm(recipe: Recipe, container: Container) -> float:
    """Roughly the stem a piece has to spend below the rim: what drinking, foam, pins or the tie ask for."""
    if recipe.mechanics is Mechanics.FOAM:
        return FOAM_DEPTH_CM
    if recipe.mechanics in {Mechanics.PIN_HOLDER, Mechanics.TIED}:
        return container.depth_cm
    return get_least_drop_cm(container)
