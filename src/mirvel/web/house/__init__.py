"""**House rules**: how the shop prices, measures and judges; every one is its own to change."""

from hashlib import sha256

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from mirvel.core.house.editing import set_rules, write_rules
from mirvel.core.house.rules import HouseRules
from mirvel.core.values.problems import BadInput, Problem
from mirvel.store.shop import StaleRules
from mirvel.web.house.fields import GROUPS, NAMES
from mirvel.web.requests import ShopHere, Typed, TypedHere, render

router = APIRouter(prefix="/house")


def _get_mark(rules: HouseRules) -> str:
    """What stands for the rules as they were read."""
    return sha256(rules.model_dump_json().encode()).hexdigest()


@router.get("")
def show_rules(request: Request, shop: ShopHere, kept: bool = False) -> Response:
    """All rules, as they are typed."""
    return _show(request, shop.load_rules(), said="Kept. All money is reckoned anew by them." if kept else "")


@router.post("")
def keep_rules(request: Request, shop: ShopHere, typed: TypedHere) -> Response:
    """All rules that were typed, or none of them with all that is wrong."""
    rules = shop.load_rules()
    try:
        changed = set_rules(rules, typed, NAMES)
        if typed.get("read_at") != _get_mark(rules):
            raise StaleRules
        shop.save_rules(changed, read=rules)
    except BadInput as error:
        return _show(request, rules, 422, typed=typed, problems=error.problems)
    except StaleRules as error:
        return _show(request, shop.load_rules(), 409, typed=typed, problems=(Problem("rules", str(error), ""),))
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
    said: str = "",
) -> Response:
    values = {**write_rules(rules), **(typed or {})}
    wrong = {problem.field for problem in problems}
    return render(
        request, "house/house.html", status, groups=GROUPS, values=values, problems=problems, wrong=wrong, said=said,
        read_at=_get_mark(rules), rules=rules,
    )  # fmt: skip
