"""**House rules**: how the shop prices, measures and judges; every one is its own to change."""

from hashlib import sha256

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from mirvel.core.house.editing import set_rules, write_rules
from mirvel.core.house.rules import HouseRules
from mirvel.core.values.problems import BadInput, Problem
from mirvel.store.shop import Shop
from mirvel.store.stale import StaleRules
from mirvel.web.house import prices
from mirvel.web.house.fields import GROUPS, NAMES
from mirvel.web.requests import ShopHere, Typed, TypedHere, render

router = APIRouter(prefix="/house")
router.include_router(prices.router)


def _get_mark(rules: HouseRules) -> str:
    """What stands for the rules as they were read."""
    return sha256(rules.model_dump_json().encode()).hexdigest()


@router.get("")
def show_rules(request: Request, shop: ShopHere, kept: bool = False) -> Response:
    """All rules, as they are typed; of one that cannot be read any more, the usual one, and why."""
    (rules, troubles), before = shop.read_rules(), shop.load_rules_before()
    problems = tuple(Problem("rules", str(trouble), "Keep these to be rid of it.") for trouble in troubles)
    changed = _find_changed(rules, before) if kept and before else ()
    return _show(request, rules, problems=problems, changed=changed)


@router.post("")
def keep_rules(request: Request, shop: ShopHere, typed: TypedHere) -> Response:
    """All rules that were typed, or none of them with all that is wrong."""
    rules = shop.load_rules()
    try:
        changed = set_rules(rules, typed, NAMES)
        if typed.get("rules_read") != _get_mark(rules):
            raise StaleRules
        return _keep(request, shop, changed, rules)
    except BadInput as error:
        return _show(request, rules, 422, typed=typed, problems=error.problems)
    except StaleRules as error:
        return _show(request, shop.load_rules(), 409, typed=typed, problems=(Problem("rules", str(error), ""),))


@router.post("/back")
def go_back(request: Request, shop: ShopHere, typed: TypedHere) -> Response:
    """The rules before the last change of them; once more, and they are those again."""
    rules, before = shop.load_rules(), shop.load_rules_before()
    if before is None or typed.get("rules_read") != _get_mark(rules):
        return _show(request, rules, 409, problems=(Problem("rules", str(StaleRules()), ""),))
    return _keep(request, shop, before, rules)


def _keep(request: Request, shop: Shop, changed: HouseRules, rules: HouseRules) -> Response:
    if changed == rules:
        return RedirectResponse("/house", status_code=303)
    shop.save_rules(changed, read=rules)
    request.app.state.drifter.poke()
    request.app.state.drawer.poke()
    return RedirectResponse("/house?kept=true", status_code=303)


def _show(
    request: Request,
    rules: HouseRules,
    status: int = 200,
    *,
    typed: Typed | None = None,
    problems: tuple[Problem, ...] = (),
    changed: tuple[tuple[str, str, str], ...] = (),
) -> Response:
    values = {**write_rules(rules), **(typed or {})}
    wrong = {problem.field for problem in problems}
    return render(
        request, "house/house.html", status, groups=GROUPS, values=values, problems=problems, wrong=wrong,
        changed=changed, rules_read=_get_mark(rules), rules=rules,
    )  # fmt: skip


def _find_changed(rules: HouseRules, before: HouseRules) -> tuple[tuple[str, str, str], ...]:
    """What the last change changed: the field, what was there and what is there now."""
    now, then = write_rules(rules), write_rules(before)
    return tuple((NAMES[name], then[name], now[name]) for name in NAMES if now[name] != then[name])
