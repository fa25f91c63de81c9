"""Every fact that a page shows can be typed again as it stands, and every form that changes one asks for no more."""

import pytest

from mirvel.core.goods.catalogue import Catalogue, GoodsKind
from mirvel.core.goods.editing import set_facts
from mirvel.web.buckets.fields import TYPES, format_fact, get_fields, get_fresh

# These have forms of their own, or none; a stem is lengthened where it is made ahead.
_ELSEWHERE = {"slug", "cost", "colours", "retired", "stems", "hard_goods"}
_OF_OTHERS = {GoodsKind.MATERIALS: {"lengthened", "own_stem_cm"}}


@pytest.mark.parametrize("kind", GoodsKind)
def test_facts_are_typed_again_as_they_are_shown(catalogue: Catalogue, kind: GoodsKind) -> None:
    goods = getattr(catalogue, kind)
    for good in goods.values():
        for name in get_fields(kind):
            assert set_facts(good, {name: format_fact(good, name)}) == good, (good.slug, name)


@pytest.mark.parametrize("kind", GoodsKind)
def test_no_fact_of_a_good_is_out_of_reach(kind: GoodsKind) -> None:
    assert set(get_fields(kind)) == set(TYPES[kind].model_fields) - _ELSEWHERE - _OF_OTHERS.get(kind, set())


@pytest.mark.parametrize("kind", GoodsKind)
def test_a_new_good_is_asked_for_what_it_cannot_do_without(kind: GoodsKind) -> None:
    needed = {name for name, field in TYPES[kind].model_fields.items() if field.is_required()}
    assert needed - _ELSEWHERE <= {field.name for field in get_fresh(kind)}
