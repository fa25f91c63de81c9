"""A sample piece of a form, made from what a shop has: for the gallery, and to see what a form is."""

from collections.abc import Iterator
from decimal import Decimal

from mirvel.core.forms.form import Form
from mirvel.core.forms.kinds import FORMS
from mirvel.core.forms.sample_lists import Wanted
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.goods.container import Container
from mirvel.core.goods.facts import Mechanics, PieceSize
from mirvel.core.goods.material import Material
from mirvel.core.recipe.entry import Entry
from mirvel.core.recipe.recipe import Brief, Recipe, Size


def find_sample(form: Form, catalogue: Catalogue) -> Recipe | None:
    """A recipe that shows a form at its own rule, or None where the shop has nothing it can be made in."""
    return _find_sample(form, catalogue, _get_offered(catalogue))


def find_samples(catalogue: Catalogue) -> dict[str, Recipe]:
    """A sample of every form that the shop can make, by the form's name."""
    offered = _get_offered(catalogue)
    found = ((form.name, _find_sample(form, catalogue, offered)) for form in FORMS.values())
    return {name: sample for name, sample in found if sample}


def _get_offered(catalogue: Catalogue) -> list[Material]:
    """What there is to make samples of, the least dear first."""
    return sorted(catalogue.find_materials(""), key=lambda each: (each.cost_per_piece, each.slug))


def _find_sample(form: Form, catalogue: Catalogue, offered: list[Material]) -> Recipe | None:
    fit = [each for each in catalogue.containers.values() if form.takes(each) and not each.retired]
    if not fit:
        return None
    container = choose_container(form, fit)
    return Recipe(
        name=form.name.capitalize(),
        family="sample",
        price_point=Decimal(50),
        form=form.name,
        brief=Brief(seen_from=form.seen_from),
        size=Size(rule=form.rule),
        container=container.slug,
        mechanics=choose_mechanics(form, container),
        entries=tuple(_get_entries(form, offered)),
    )


def choose_mechanics(form: Form, container: Container) -> Mechanics:
    """How a form is usually held in a container."""
    return next((each for each in form.mechanics if each in container.usual_mechanics), form.mechanics[0])


def choose_container(form: Form, fit: list[Container]) -> Container:
    """Of the form's usual kind and as deep for its width as the form, the middle one by size; the widest for
    a form no wider than its mouth."""
    usual = [each for each in fit if each.kind is form.usual_kind] or fit
    nearest = min(abs(each.mouth_ratio - form.proportions.depth) for each in usual)
    alike = [each for each in usual if abs(each.mouth_ratio - form.proportions.depth) < nearest + 0.05]
    by_size = sorted(alike, key=lambda each: (each.mouth_cm * each.rim_height_cm, each.slug))
    return by_size[-1] if form.proportions.over_mouth else by_size[(len(by_size) - 1) // 2]


def _get_entries(form: Form, offered: list[Material]) -> Iterator[Entry]:
    for number, wanted in enumerate(form.sample, 1):
        material = _find_material(wanted, offered)
        if material is None:
            continue
        colours = list(material.colours)
        yield Entry(
            id=f"e{number}",
            material=material.slug,
            colour=colours[number % len(colours)],
            role=wanted.role,
            pieces=wanted.pieces,
            piece=PieceSize.LATERAL if material.pieces_per_stem > 1 else PieceSize.STEM,
        )


def _find_material(wanted: Wanted, offered: list[Material]) -> Material | None:
    """The least dear material or made-ahead thing of the form wanted, of the habit too if there is one."""
    alike = [each for each in offered if each.form is wanted.form]
    return next((each for each in alike if each.habit == wanted.habit), alike[0] if alike else None)
