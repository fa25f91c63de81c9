"""**Family's brief**: what a family is asked, the times of a service and what follows from them, the ribbon's text."""

from collections.abc import Mapping
from typing import Any

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from mirvel.core.pricing.drift import get_costs
from mirvel.core.recipe.recipe import Recipe
from mirvel.core.recipe.service import Service
from mirvel.core.values.problems import BadInput
from mirvel.drawing.ribbon import draw_ribbon
from mirvel.store.shop import SavedRecipe, Shop, Worth
from mirvel.store.stale import StaleState
from mirvel.web.requests import RecipeId, ShopHere, Typed, TypedHere, render
from mirvel.web.working import Desk, DeskHere

router = APIRouter(prefix="/service/{recipe_id}")
LINES, NOTES = 3, 4
_PLAIN = ("faith", "colours", "wishes", "keeps", "ribbon_length_cm", "stays_days", "travel_minutes")
_TIMES = ("visitation", "service", "committal")


@router.get("")
def show_service(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere) -> Response:
    """The brief as it was last kept."""
    saved = shop.load_recipe(recipe_id)
    return _show(request, shop, saved, desk, write_service(saved.recipe.brief.service or Service()))


@router.post("")
def keep_service(request: Request, recipe_id: RecipeId, shop: ShopHere, desk: DeskHere, typed: TypedHere) -> Response:
    """Keep what was typed as a change of the recipe."""
    saved = shop.load_recipe(recipe_id)
    try:
        if typed.get("read_at") != str(saved.state_id):
            raise StaleState
        after = _set_service(saved.recipe, typed)
        money = desk.work_out(after).money
        worth = Worth(after, get_costs(after, desk.catalogue), is_true=money.is_true)
        shop.save_recipe(recipe_id, worth, read_at=saved.state_id, change="the family’s brief")
    except StaleState as error:
        return _show(request, shop, saved, desk, typed, 409, text=str(error))
    except BadInput as error:
        return _show(request, shop, saved, desk, typed, 422, problems=error.problems)
    return RedirectResponse(f"/service/{recipe_id}", status_code=303)


def _set_service(recipe: Recipe, typed: Typed) -> Recipe:
    """The recipe with its brief's service as typed; a ribbon line that was changed has to be read back anew. Raises
    BadInput."""
    before = recipe.brief.service or Service()
    service: dict[str, Any] = {name: typed[name].strip() for name in _PLAIN if typed.get(name, "").strip()}
    service |= {name: typed.get(name, "").strip() or None for name in (*_TIMES, "ribbon")}
    service["ribbon_lines"] = [
        {"text": text, "read_back": f"line{number}-read" in typed and not _is_changed(before, number, text)}
        for number in range(LINES)
        if (text := typed.get(f"line{number}", "").strip())
    ]
    service["venue"] = [
        {"text": text, "confirmed": f"note{number}-confirmed" in typed}
        for number in range(NOTES)
        if (text := typed.get(f"note{number}", "").strip())
    ]
    return recipe.change(brief={**recipe.brief.model_dump(), "service": service})


def _is_changed(before: Service, number: int, text: str) -> bool:
    """Whether a ribbon line is another text than the one that stood there and was read back."""
    lines = before.ribbon_lines
    return number < len(lines) and lines[number].read_back and lines[number].text != text


def write_service(service: Service) -> dict[str, str]:
    """A service as its form shows it."""
    found = {name: f"{getattr(service, name):g}" if name in _PLAIN[4:] else getattr(service, name) for name in _PLAIN}
    found |= {name: time.strftime("%Y-%m-%dT%H:%M") for name in _TIMES if (time := getattr(service, name))}
    found["ribbon"] = service.ribbon or ""
    for number, line in enumerate(service.ribbon_lines):
        found |= {f"line{number}": line.text} | ({f"line{number}-read": "on"} if line.read_back else {})
    for number, note in enumerate(service.venue):
        found |= {f"note{number}": note.text} | ({f"note{number}-confirmed": "on"} if note.confirmed else {})
    return found


def _show(
    request: Request,
    shop: Shop,
    saved: SavedRecipe,
    desk: Desk,
    typed: Mapping[str, str],
    status: int = 200,
    **said: object,
) -> Response:
    worked = desk.work_out(saved.recipe)
    service = saved.recipe.brief.service or Service()
    ribbons = [good for good in desk.catalogue.hard_goods.values() if good.ribbon_cm and not good.retired]
    widths = {good.slug: good.ribbon_cm for good in ribbons}
    fits = worked.ribbons
    drawn = [draw_ribbon(fit, widths.get(service.ribbon or "") or 1.0) for fit in fits]
    timeline, now = worked.build.timeline, shop.get_now().replace(tzinfo=None)  # a family's times have no zone
    return render(
        request,
        "service/service.html",
        status,
        view=saved,
        missed=timeline.find_missed(now) if timeline else (),
        worked=worked,
        kept=service,
        typed=typed,
        ribbons=ribbons,
        drawn=list(zip(fits, drawn, strict=True)),
        lines=range(LINES),
        notes=range(NOTES),
        rules=desk.rules,
        **{"problems": (), "text": "", **said},
    )
