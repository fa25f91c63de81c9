"""Figures drawn in the background: whenever a recipe, a good's facts, the rules or Mirvel itself has changed, what it
touches is drawn anew, in a process of its own, and kept; what would come out the same is only found again."""

import threading
from collections.abc import Callable, Collection, Iterable
from dataclasses import dataclass
from functools import cache
from hashlib import sha256
from pathlib import Path

import structlog

import mirvel
from mirvel.core.changing.samples import find_samples
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.making.build import get_build
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import Taken, take
from mirvel.core.values.problems import BadInput, MirvelError
from mirvel.core.values.units import LengthUnit
from mirvel.drawing.sheet import Style, draw, draw_standing
from mirvel.drawing.view import View
from mirvel.store.documents import Unreadable
from mirvel.store.figures import Figure, Standing
from mirvel.store.shop import Shop
from mirvel.web.background import Background
from mirvel.web.solving import Worker
from mirvel.web.working import Desk

log = structlog.get_logger()

AT_A_TIME = 6
LOOK_EVERY_S = 20.0  # what other processes change comes without a poke
_BREATH_S = 0.01  # between portions, so that a waiting page gets its turn at the interpreter
STANDING, HOURS = "standing", (6.0, 9.0, 12.0, 3.0)
# As it stands, or with its measures from a clock hour, in the unit that somebody reads.
LOOKS = (STANDING, *(f"{hour:g} {unit.value}" for unit in LengthUnit for hour in HOURS))
_DRAWN_BY = ("core", "drawing")  # the parts of Mirvel a figure comes from


@cache
def _get_release() -> str:
    """A digest of the code figures are drawn by, so that another release draws them anew."""
    digest, root = sha256(), Path(mirvel.__path__[0])
    for part in _DRAWN_BY:
        for file in sorted(root.joinpath(part).rglob("*.py")):
            digest.update(file.read_bytes())
    return digest.hexdigest()


def get_version(facts: int, rules: HouseRules) -> str:
    """What stands for all that decides a recipe's figure but the recipe itself: facts of goods, the shop's rules in the
    shop's own units, and this release."""
    return sha256(f"{facts} {rules.model_dump_json()} {_get_release()}".encode()).hexdigest()[:40]


def get_origin(taken: Taken, rules: HouseRules) -> str:
    """What stands for all that decides a recipe’s figures: itself, the facts of its goods, the rules, this release."""
    digest = sha256(f"{rules.model_dump_json()} {_get_release()} {taken.recipe.model_dump_json()}".encode())
    for good in taken.all_goods:
        digest.update(good.model_dump_json(exclude={"cost"}).encode())
    return digest.hexdigest()


def get_key(origin: str, look: str) -> str:
    """The key of one figure, looked at in one way."""
    return sha256(f"{look} {origin}".encode()).hexdigest()[:40]


def has_samples(shop: Shop, desk: Desk) -> bool:
    """Whether every form that the shop can make is drawn as its goods are now."""
    return shop.figures.has_samples(get_version(desk.facts_version, shop.load_rules())) or not desk.get_all_vessels()


def draw_figure(recipe: Recipe, catalogue: Catalogue, rules: HouseRules, look: str) -> Figure:
    """A recipe built and drawn, in one of the ways of looking; or why it cannot be."""
    hour, _, unit = look.partition(" ")
    rules = rules.model_copy(update={"unit": LengthUnit(unit)}) if unit else rules
    try:
        build = get_build(take(recipe, catalogue), rules)
        drawing = draw_standing(build) if look == STANDING else draw(build, View.FRONT, Style(hour=float(hour)))
    except BadInput as error:
        return Figure(trouble=str(error))
    except Exception:  # one that nobody foresaw keeps no other recipe from being drawn
        log.exception("not drawn", recipe=recipe.name)
        return Figure(trouble="Something went wrong in drawing it; its Table may say more.")
    svg = drawing.to_svg(width=round(drawing.width_mm, 1), height=round(drawing.height_mm, 1))
    return Figure(svg, drawing.width_mm, drawing.height_mm, build.overall_height_cm, build.extent.width_cm)


class Drawer(Background):
    """Draws figures; ``poke`` it when something they come from has changed."""

    def __init__(self, shop: Shop) -> None:
        self._shop, self._worker, self._first = shop, Worker(), frozenset[int]()
        super().__init__("figures", self._draw_all, LOOK_EVERY_S)

    def draw_first(self, recipe_ids: Iterable[int]) -> None:
        """Somebody looks at these and waits: they come before all others."""
        self._first = frozenset(recipe_ids)
        self.poke()

    def _draw_all(self, ended: threading.Event) -> int:
        return draw_all(self._shop, self._worker, ended, lambda: self._first)

    def stop(self) -> None:
        """End it and its process; what it was at is drawn another time."""
        super().stop()
        self._worker.stop()


def draw_all(
    shop: Shop, worker: Worker, ended: threading.Event, get_first: Callable[[], Collection[int]] = frozenset
) -> int:
    """Draw what has not been drawn as it stands, those first that ``get_first`` names at the time, and then the samples
    of all forms; returns how many recipes were looked at."""
    goods, rules = shop.goods.load(), shop.load_rules()
    artist, version = _Artist(shop, worker, rules), get_version(goods.facts, rules)

    def draw_recipes() -> int:
        count = 0
        while not ended.is_set():
            portion = shop.figures.load_undrawn(version, AT_A_TIME, get_first())
            found = [_tell(each, version) for each in portion.unreadable]
            for each in portion.rows:
                if ended.is_set():
                    return count
                key = artist.draw(each.recipe, goods.catalogue, STANDING)
                found.append(Standing(each.recipe_id, each.state_id, version, key))
            if not found:
                break
            shop.figures.stand(found)
            count += len(found)
            ended.wait(_BREATH_S)
        return count

    count = draw_recipes()
    if shop.figures.has_samples(version):
        if not count:
            shop.figures.drop_old()
        return count
    samples = find_samples(goods.catalogue)
    origins = {form: get_origin(take(sample, goods.catalogue), rules) for form, sample in samples.items()}
    keys = {(form, look): get_key(origin, look) for look in LOOKS for form, origin in origins.items()}
    missing = shop.figures.find_missing([*keys.values()])
    for form, look in (each for each, key in keys.items() if key in missing):
        count += draw_recipes()  # what somebody changes meanwhile comes first
        if ended.is_set():
            return count
        artist.draw(samples[form], goods.catalogue, look)
    shop.figures.show_samples(version, keys)
    return count


def _tell(each: Unreadable, version: str) -> Standing:
    """What is kept of a recipe that cannot be read, so that it is not tried again until something changes."""
    return Standing(int(each.key), each.state, version, None, str(each))


@dataclass(frozen=True)
class _Artist:
    """Who draws, by which rules."""

    shop: Shop
    worker: Worker
    rules: HouseRules

    def draw(self, recipe: Recipe, catalogue: Catalogue, look: str) -> str:
        """The key of a recipe's figure, drawn where there is none yet."""
        figures = self.shop.figures
        try:
            taken = take(recipe, catalogue)
        except MirvelError as error:
            key = sha256(f"{recipe.model_dump_json()} {error}".encode()).hexdigest()[:40]
            figures.add(key, Figure(trouble=str(error)))
            return key
        key = get_key(get_origin(taken, self.rules), look)
        if figures.find_missing([key]):
            figures.add(key, self.worker.ask("figures", draw_figure, recipe, taken.as_catalogue(), self.rules, look))
        return key
