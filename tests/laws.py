"""`./run laws`: whether the laws of a piece hold for random recipes in every form, in every container it takes, held by
everything it may be held by. About a thousand; not part of every run of the tests. Prints each law that is broken with
how often, and a recipe that shows it; the seed brings them back."""

import argparse
import math
import random
import sys
from collections import Counter
from collections.abc import Callable, Iterator

import numpy as np

from mirvel.core.changing.carrying import carry_places
from mirvel.core.forms.form import Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.facts import Mechanics, PieceSize, Role
from mirvel.core.house.design import Balance
from mirvel.core.house.rules import HouseRules
from mirvel.core.placing.places import get_head_extent
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.values.units import LengthUnit
from mirvel.core.working import Worked, work_out
from mirvel.demo import get_catalogue
from tests.core.test_glass import find_through_wall

RULES = HouseRules()
_NEAR_CM, _FACE_CM = 0.01, 0.5
_USUAL = (Role.GREENERY, Role.LINE, Role.FOCAL, Role.MASS, Role.FILLER, Role.TEXTURE)
Law = Callable[[Worked], object]


def find_not_finite(worked: Worked) -> list[object]:
    places = worked.build.places
    return [
        each.entry.material for each in places if not all(map(math.isfinite, (*each.tip, *each.start, *each.facing)))
    ]


def find_under_table(worked: Worked) -> list[object]:
    """Heads that reach into what a standing piece stands on."""
    build = worked.build
    if build.sizing.form.hangs or build.sizing.form.lies:
        return []
    floor = -build.container.rim_height_cm
    return [
        (place.entry.material, round(lowest - floor, 1))
        for place in build.places
        for lowest in [place.tip.z + get_head_extent(place.material, place.facing, place.half_width_cm).bottom]
        if lowest < floor - 0.3
    ]


def find_cut_to_nothing(worked: Worked) -> list[object]:
    made = [cut for cut in worked.build.cuts if not cut.place.material.uncut]
    return [cut.place.entry.material for cut in made if not 1.0 <= cut.cut_cm <= 400 or cut.inside_cm < 0]


def find_through_glass(worked: Worked) -> list[object]:
    return [cut.place.entry.material for cut in find_through_wall(worked.build)]


def find_in_air(worked: Worked) -> list[object]:
    """Stems that begin off the face of their frame's foam."""
    bed = worked.build.bed
    if bed is None:
        return []
    sign = -1.0 if worked.recipe.arranging.mirrored else 1.0
    starts = [(each, np.array([[sign * each.start.x, each.start.y]])) for each in worked.build.places if not each.zone]
    return [
        (each.entry.material, round(off, 1))
        for each, at in starts
        for off in [
            max(0.0, -float(bed.outline.get_depths(at)[0]), each.start.z - bed.top_z, bed.bottom_z - each.start.z)
        ]
        if off > _FACE_CM
    ]


def find_in_foam(worked: Worked) -> list[object]:
    """Heads whose base lies inside the foam of their frame."""
    bed, sign = worked.build.bed, -1.0 if worked.recipe.arranging.mirrored else 1.0
    if bed is None:
        return []
    return [
        (place.entry.material, round(deep, 1))
        for place in worked.build.places
        if not (place.material.is_axial or place.zone)
        for base in [place.head_base]
        for deep in [min(float(bed.outline.get_depths(np.array([[sign * base.x, base.y]]))[0]), bed.top_z - base.z)]
        if deep > _FACE_CM and base.z > bed.bottom_z
    ]


def find_moved_once_kept(worked: Worked) -> list[object]:
    kept = work_out(carry_places(worked.build, worked.recipe), get_catalogue(), RULES)
    return [
        one.entry.material
        for one, other in zip(worked.build.places, kept.build.places, strict=True)
        if one.tip.minus(other.tip).length > _NEAR_CM
    ]


def find_moved_by_unit(worked: Worked) -> list[object]:
    inches = work_out(worked.recipe, get_catalogue(), RULES.change(unit=LengthUnit.INCH))
    pairs = zip(worked.build.cuts, inches.build.cuts, strict=True)
    return [one.place.entry.material for one, other in pairs if abs(one.cut_cm - other.cut_cm) > 0.64]


def find_twice_in_one_place(worked: Worked) -> list[object]:
    if worked.build.sizing.form.only_listed:
        return []
    seen = Counter(tuple(round(part, 2) for part in place.tip) for place in worked.build.places if not place.zone)
    return [at for at, times in seen.items() if times > 1]


LAWS: dict[str, Law] = {
    "every number is finite": find_not_finite,
    "no head reaches into the table": find_under_table,
    "every cut can be made": find_cut_to_nothing,
    "no stem runs through glass": find_through_glass,
    "every stem begins on its foam": find_in_air,
    "no head lies in its foam": find_in_foam,
    "what is kept stays": find_moved_once_kept,
    "no unit moves a cut": find_moved_by_unit,
    "no two tips are one": find_twice_in_one_place,
}


def get_recipes(form: Form, catalogue: Catalogue, chance: random.Random) -> Iterator[Recipe]:
    """One for each container and way to hold stems that go with a form."""
    for slug, container in sorted(catalogue.containers.items()):
        if not form.takes(container):
            continue
        for mechanics in form.mechanics:
            if mechanics is Mechanics.TIED or mechanics in container.usual_mechanics or container.foam_included:
                yield get_recipe(form, slug, mechanics, catalogue, chance)


def get_recipe(form: Form, container: str, mechanics: Mechanics, catalogue: Catalogue, chance: random.Random) -> Recipe:
    entries = []
    for number, role in enumerate(sorted(chance.sample(_USUAL, chance.randint(2, 5)), key=_USUAL.index), 1):
        fitting = [each for each in catalogue.materials.values() if each.default_role is role]
        material = chance.choice(fitting)
        entries.append(
            {
                "id": f"e{number}",
                "material": material.slug,
                "colour": next(iter(material.colours)),
                "role": role,
                "pieces": chance.randint(1, 14),
                "piece": PieceSize.LATERAL if material.pieces_per_stem > 1 else PieceSize.STEM,
            }
        )
    return Recipe.model_validate(
        {
            "name": "Trial",
            "family": "trial",
            "price_point": "58",
            "form": form.name,
            "container": container,
            "mechanics": mechanics,
            "size": {"rule": form.rule.model_dump()},
            "arranging": {"mirrored": chance.random() < 0.2, "balance": chance.choice([None, *Balance])},
            "entries": entries,
        }
    )


def main() -> int:
    words = argparse.ArgumentParser(description=__doc__)
    words.add_argument("--seed", type=int, default=1)
    words.add_argument("--times", type=int, default=2, help="recipes for each form, container and way to hold stems")
    asked = words.parse_args()
    chance, catalogue, broken, tried = random.Random(asked.seed), get_catalogue(), Counter[str](), 0
    shown: dict[str, tuple[Recipe, object]] = {}
    for form in FORMS.values():
        for _ in range(asked.times):
            for recipe in get_recipes(form, catalogue, chance):
                worked, tried = work_out(recipe, catalogue, RULES), tried + 1
                for law, find in LAWS.items():
                    found = find(worked)
                    if found:
                        broken[law] += 1
                        shown.setdefault(law, (recipe, found))
    print(f"{tried} recipes, seed {asked.seed}")
    for law in LAWS:
        print(f"{broken[law]:>5} broke  {law}")
        if law in shown:
            recipe, found = shown[law]
            print(f"        such as {recipe.form} in {recipe.container}, {recipe.mechanics.value}: {str(found)[:200]}")
    return 1 if broken else 0


if __name__ == "__main__":
    sys.exit(main())
