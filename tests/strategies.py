"""Recipes, prices and rules for property tests, made from the demo shop's goods."""

from decimal import Decimal

from hypothesis import strategies as st

from mirvel.core.forms.form import Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.goods.assembly import Assembly
from mirvel.core.goods.facts import PieceSize, Role
from mirvel.core.goods.hard_good import HardGoodUse
from mirvel.core.goods.material import Material
from mirvel.core.house.design import Arranging, Balance, Grouping
from mirvel.core.house.rules import HouseRules
from mirvel.core.pricing.pricing import AtCost
from mirvel.core.recipe.entry import Entry, Outline
from mirvel.core.recipe.recipe import Density, Recipe, Size, SizeMode
from mirvel.core.values.units import LengthUnit
from mirvel.demo import get_catalogue

CATALOGUE = get_catalogue()


def money(low: str, high: str) -> st.SearchStrategy[Decimal]:
    return st.decimals(Decimal(low), Decimal(high), places=2)


goods = st.builds(
    AtCost,
    flowers=money("0", "200"),
    hard_goods=money("0", "20"),
    flower_markup=money("1.5", "5"),
    minutes=money("0", "60"),
)
rules = st.builds(
    HouseRules,
    unit=st.sampled_from(LengthUnit),
    hard_goods_markup=money("1", "4"),
    labour_on_top=money("0", "1"),
    labour_share=money("0", "0.6"),
    wage_per_minute=money("0", "1"),
    overhead_on_wage=money("0", "2"),
    goods_uplift=money("0", "3"),
)


@st.composite
def entries(draw: st.DrawFn) -> tuple[Entry, ...]:
    made = []
    goods: dict[str, Material | Assembly] = {**CATALOGUE.materials, **CATALOGUE.assemblies}
    for number in range(draw(st.integers(1, 6))):
        material = goods[draw(st.sampled_from(sorted(goods)))]
        made.append(
            Entry(
                id=f"e{number}",
                material=material.slug,
                colour=draw(st.sampled_from(sorted(material.colours))),
                role=draw(st.sampled_from(Role)),
                outline=draw(st.sampled_from(Outline)),
                pieces=draw(st.integers(0, 12)),
                piece=draw(st.sampled_from(PieceSize)),
            )
        )
    return tuple(made)


def get_recipes(form: Form) -> st.SearchStrategy[Recipe]:
    """Recipes of a form in anything it can stand in, held by anything it can be held by."""
    return st.builds(
        Recipe,
        name=st.just("Trial"),
        family=st.just("trial"),
        price_point=money("20", "300"),
        form=st.just(form.name),
        container=st.sampled_from(sorted(slug for slug, each in CATALOGUE.containers.items() if form.takes(each))),
        mechanics=st.sampled_from(form.mechanics),
        arranging=st.builds(
            Arranging,
            grouping=st.none() | st.sampled_from(Grouping),
            balance=st.none() | st.sampled_from(Balance),
            mirrored=st.booleans(),
            attempt=st.integers(0, 5),
        ),
        foam_above_rim_cm=st.sampled_from([0.0, 2.5, 6.0]),
        size=st.builds(
            Size,
            mode=st.sampled_from(SizeMode),
            rule=st.just(form.rule),
            density=st.sampled_from(Density),
            own_height_cm=st.sampled_from([12.0, 20.0] if form.covers_frame else [68.0, 90.0]),
            own_width_cm=st.sampled_from([8.0, 30.0]),
        ),
        hard_goods=st.just((HardGoodUse(hard_good="card-envelope", quantity=Decimal(1)),)),
        entries=entries(),
    )


recipes = get_recipes(FORMS["all-round dome"])
