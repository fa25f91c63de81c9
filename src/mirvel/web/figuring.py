"""Figures drawn in the background: whenever a recipe, a good's facts, the rules or Mirvel itself has changed, what it
touches is drawn anew, in a process of its own, and kept; what would come out the same is only found again."""

import threading
from collections import Counter
from collections.abc import Callable, Collection, Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cache
from hashlib import sha256
from pathlib import Path

import structlog

import mirvel
from mirvel.core.changing.samples import find_samples
from mirvel.core.goods.catalogue import Catalogue
from mirvel.core.house.rules import HouseRules
from mirvel.core.judging.check import Family, Severity
from mirvel.core.making.build import Build, get_build
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.taking import Taken, take
from mirvel.core.values.problems import BadInput, MirvelError
from mirvel.core.values.units import LengthUnit
from mirvel.core.working import finish
from mirvel.drawing.sheet import Drawing, Style, draw, draw_standing
from mirvel.drawing.view import View
from mirvel.store.documents import Unreadable
from mirvel.store.figures import Figure, Standing
from mirvel.store.goods import Goods
from mirvel.store.shop import Shop
from mirvel.web.background import Background
from mirvel.web.workers import BEHIND, Worker
from mirvel.web.working import Desk

log = structlog.get_logger()

AT_A_TIME = 6
LOOK_EVERY_S = 20.0  # what other processes change comes without a poke
_BREATH_S = 0.01  # between portions, so that a waiting page gets its turn at the interpreter
STANDING, HOURS = "standing", (6.0, 9.0, 12.0, 3.0)
# As it stands, or with its measures from a clock hour, in the unit that somebody reads.
LOOKS = (STANDING, *(f"{hour:g} {unit.value}" for unit in LengthUnit for hour in HOURS))
_FIGURES = "figures"  # what the process is asked for
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
    shop's own units but those of price, and this release."""
    return sha256(f"{facts} {rules.write_unpriced()} {_get_release()}".encode()).hexdigest()[:40]


def get_origin(taken: Taken, rules: HouseRules) -> str:
    """What stands for all that decides a recipe’s figures: itself, the facts of its goods, the rules, this release."""
    digest = sha256(f"{rules.write_unpriced()} {_get_release()} {taken.recipe.model_dump_json()}".encode())
    for good in taken.all_goods:
        digest.update(good.model_dump_json(exclude={"cost"}).encode())
    return digest.hexdigest()


def get_key(origin: str, look: str) -> str:
    """The key of one figure, looked at in one way."""
    return sha256(f"{look} {origin}".encode()).hexdigest()[:40]


def has_samples(shop: Shop, desk: Desk) -> bool:
    """Whether every form that the shop can make is drawn as its goods are now."""
    return shop.figures.has_samples(get_version(desk.facts_version, shop.load_rules())) or not desk.get_all_vessels()


def draw_figures(recipe: Recipe, catalogue: Catalogue, rules: HouseRules, looks: Sequence[str]) -> list[Figure]:
    """A recipe drawn in each way of looking, built once: what reads lengths in the other unit has other figures at the
    same lines; or why it cannot be."""
    build: Build | None = None
    found = []
    for look in looks:
        hour, _, unit = look.partition(" ")
        try:
            taken = take(recipe, catalogue)
            build = build or get_build(taken, rules)
            if look == STANDING:
                found.append(_draw_standing(build, taken))
                continue
            own = replace(build, rules=rules.model_copy(update={"unit": LengthUnit(unit)}))
            found.append(_draw_from(own, float(hour)))
        except BadInput as error:
            found.append(Figure(trouble=str(error)))
        except Exception:  # one that nobody foresaw keeps no other recipe from being drawn
            log.exception("not drawn", recipe=recipe.name)
            found.append(Figure(trouble="Something went wrong in drawing it; its Table may say more."))
    return found


def _draw_standing(build: Build, taken: Taken) -> Figure:
    """A piece as it stands, and what is found in it whatever its goods cost; of its money the drift tells."""
    checks = [each for each in finish(build, taken).checks if each.family is not Family.MONEY]
    counts = Counter(each.severity for each in checks)
    grave = [each for each in checks if each.severity is not Severity.NOTE]
    return replace(
        _draw(build, draw_standing(build)),
        stops=counts[Severity.STOP],
        warnings=counts[Severity.WARN],
        gravest=grave[0].title if grave else "",
    )


def _draw_from(build: Build, hour: float) -> Figure:
    return _draw(build, draw(build, View.FRONT, Style(hour=hour)))


def _draw(build: Build, drawing: Drawing) -> Figure:
    svg = drawing.to_svg(width=round(drawing.width_mm, 1), height=round(drawing.height_mm, 1))
    return Figure(svg, drawing.width_mm, drawing.height_mm, build.overall_height_cm, build.extent.width_cm)


class Drawer(Background):
    """Draws figures; ``poke`` it when something they come from has changed."""

    def __init__(self, shop: Shop) -> None:
        self._shop, self._worker, self._first = shop, Worker(behind=BEHIND), frozenset[int]()
        super().__init__("figures", self._draw_all, LOOK_EVERY_S)

    def draw_first(self, recipe_ids: Iterable[int]) -> None:
        """Somebody looks at these and waits: they come before all others."""
        self._first = frozenset(recipe_ids)
        self.poke()

    def _draw_all(self, ended: threading.Event) -> int:
        return draw_all(self._shop, self._worker, ended, lambda: self._first)

    def stop(self) -> None:
        """End it and its process; what it was at is drawn another time."""
        self.end()
        self._worker.cancel(_FIGURES)
        super().stop()
        self._worker.stop()


def draw_all(
    shop: Shop, worker: Worker, ended: threading.Event, get_first: Callable[[], Collection[int]] = frozenset
) -> int:
    """Draw what has not been drawn as it stands, those first that ``get_first`` names at the time, and then the samples
    of all forms; begun anew where goods or rules change meanwhile. Returns how many recipes were looked at."""
    count = 0
    while True:
        goods, rules = shop.goods.load(), shop.load_rules()
        run = _Run(_Artist(shop, worker, rules), goods, get_version(goods.facts, rules), ended, get_first)
        count += run.draw()
        if ended.is_set() or run.is_current():
            return count


def _tell(each: Unreadable, version: str) -> Standing:
    """What is kept of a recipe that cannot be read, so that it is not tried again until something changes."""
    return Standing(int(each.key), each.state, version, None, str(each))


@dataclass(frozen=True)
class _Run:
    """All that is to be drawn for goods and rules of one version, as long as they are those of the shop."""

    artist: "_Artist"
    goods: Goods
    version: str
    ended: threading.Event
    get_first: Callable[[], Collection[int]]

    def is_current(self) -> bool:
        """Whether goods and rules are still those that are drawn."""
        shop = self.artist.shop
        return get_version(shop.goods.look().facts, shop.load_rules()) == self.version

    def draw(self) -> int:
        """Recipes, then samples; returns how many recipes were looked at."""
        shop, catalogue, count = self.artist.shop, self.goods.catalogue, self._draw_recipes()
        if shop.figures.has_samples(self.version):
            if not count:
                shop.figures.drop_old()
            return count
        samples = {form: take(sample, catalogue) for form, sample in find_samples(catalogue).items()}
        keys = {form: self.artist.get_keys(sample, LOOKS) for form, sample in samples.items()}
        missing = shop.figures.find_missing([key for looks in keys.values() for key in looks.values()])
        for form, looks in keys.items():
            wanted = {look: key for look, key in looks.items() if key in missing}
            if not wanted:
                continue
            count += self._draw_recipes()  # what somebody changes meanwhile comes first
            if self.ended.is_set() or not self.is_current():
                return count
            self.artist.add(samples[form], wanted)
        shown = {(form, look): key for form, looks in keys.items() for look, key in looks.items()}
        shop.figures.show_samples(self.version, shown)
        return count

    def _draw_recipes(self) -> int:
        figures, count = self.artist.shop.figures, 0
        while not self.ended.is_set() and self.is_current():
            portion = figures.load_undrawn(self.version, AT_A_TIME, self.get_first())
            found = [_tell(each, self.version) for each in portion.unreadable]
            for each in portion.rows:
                if self.ended.is_set():
                    return count
                key = self.artist.draw(each.recipe, self.goods.catalogue)
                found.append(Standing(each.recipe_id, each.state_id, self.version, key))
            if not found:
                break
            figures.stand(found)
            count += len(found)
            self.ended.wait(_BREATH_S)
        return count


@dataclass(frozen=True)
class _Artist:
    """Who draws, by which rules."""

    shop: Shop
    worker: Worker
    rules: HouseRules

    def draw(self, recipe: Recipe, catalogue: Catalogue) -> str:
        """The key of a recipe's figure as it stands, drawn where there is none yet."""
        try:
            taken = take(recipe, catalogue)
        except MirvelError as error:
            key = sha256(f"{recipe.model_dump_json()} {error}".encode()).hexdigest()[:40]
            self.shop.figures.add(key, Figure(trouble=str(error)))
            return key
        keys = self.get_keys(taken, [STANDING])
        if self.shop.figures.find_missing([*keys.values()]):
            self.add(taken, keys)
        return keys[STANDING]

    def get_keys(self, taken: Taken, looks: Iterable[str]) -> dict[str, str]:
        """The key of each figure of a recipe by how it is looked at."""
        origin = get_origin(taken, self.rules)
        return {look: get_key(origin, look) for look in looks}

    def add(self, taken: Taken, keys: dict[str, str]) -> None:
        """Draw a recipe's figures by how it is looked at, and keep each under its key."""
        drawn = self.worker.ask(_FIGURES, draw_figures, taken.recipe, taken.as_catalogue(), self.rules, [*keys])
        for key, figure in zip(keys.values(), drawn, strict=True):
            self.shop.figures.add(key, figure)
