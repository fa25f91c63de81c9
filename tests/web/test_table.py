"""The Table over real HTTP: every kind of change in one round trip, and bad input that loses nothing."""

import json
import re
from collections.abc import Iterator
from decimal import Decimal

import httpx
import pytest

from mirvel.core.judging.checks import DECLARED
from mirvel.core.making.build import get_build
from mirvel.core.recipe.taking import take
from mirvel.core.working import finish, work_out
from mirvel.demo import RULES, get_catalogue, get_recipes
from mirvel.store.shop import Shop
from mirvel.web.workers import Busy, Workers
from mirvel.web.working import get_shape

HTMX = {"HX-Request": "true"}


@pytest.fixture
def table(shop: Shop) -> int:
    return next(saved.id for saved in shop.load_recipes() if saved.recipe.family == "slipway")


def change(web: httpx.Client, shop: Shop, table: int, **fields: str) -> httpx.Response:
    read_at = fields.pop("read_at", str(shop.load_recipe(table).state_id))
    return web.post(f"/table/{table}/change", data={"read_at": read_at, **fields}, headers=HTMX)


def find_value(page: str, id_: str) -> str:
    found = re.search(rf'id="{id_}"[^>]*>([^<]*)<', page)
    assert found, id_
    return found[1]


@pytest.mark.parametrize("family", ["slipway", "longline", "evening-bell"])
def test_what_is_built_for_any_price_is_judged_as_if_it_were_built_for_this_one(family: str) -> None:
    recipe, catalogue = next(each for each in get_recipes() if each.family == family), get_catalogue()
    other = recipe.change(price_point=str(recipe.price_point * 2), minutes="90", notes="Longer", accepted=())
    built = get_build(take(get_shape(recipe), catalogue), RULES).look()
    worked = finish(built.take_up(other), take(other, catalogue))
    anew = work_out(other, catalogue, RULES)
    assert worked.build.recipe == other
    assert (worked.checks, worked.money, worked.cautions) == (anew.checks, anew.money, anew.cautions)
    assert built.seen == anew.build.seen
    assert built.rim_seen == anew.build.rim_seen


def test_one_round_trip_changes_money_drawing_and_cuts_together(web: httpx.Client, shop: Shop, table: int) -> None:
    whole = web.get(f"/table/{table}").text
    part = change(web, shop, table, kind="nudge", entry="e4", by="1")
    assert part.status_code == 200
    assert "<html" in whole
    assert "<html" not in part.text
    for page, roses, spent in ((whole, 3, "£10.11"), (part.text, 4, "£10.71")):
        assert f'id="pieces-e4" inputmode="numeric" value="{roses}"' in page
        assert find_value(page, "spent") == spent
        front = page.split('class="plan"')[0]
        assert front.count("<title>Snapdragon") == roses
    assert "£0.44 over" in part.text
    assert shop.load_recipe(table).recipe.find_entry("e4").pieces == 4  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"kind": "entry", "entry": "e5", "field": "pieces", "value": "6"}, 'value="6"'),
        ({"kind": "entry", "entry": "e5", "field": "colour", "value": "red"}, "<option selected>red"),
        # by hand, hard goods 2.0904: (58/1.2 − 2 × 2.0904)/3, and further down 0.30 × 42 + 0.08 × 42 − 2.0904
        ({"kind": "field", "field": "price_point", "value": "58"}, "£14.72"),
        ({"kind": "field", "field": "container", "value": "cylinder-15x20"}, "Wide cylinder, 20 cm, in section"),
        ({"kind": "height", "factor": "2", "of": "container height", "base": "table"}, ">40 cm</text>"),
        ({"kind": "height-nudge", "by": "1"}, ">36 cm</text>"),
        ({"kind": "size", "field": "density", "value": "airy"}, '<option value="airy" selected'),
        ({"kind": "size", "field": "mode", "value": "own"}, 'name="height" value="35 cm"'),
        ({"kind": "own-size", "height": "12 in", "width": "25"}, ">30.5 cm</text>"),
        ({"kind": "entry", "entry": "e5", "field": "role", "value": "mass"}, "mass £5.79"),
        ({"kind": "meant", "entry": "e5", "value": "Low;  at 6"}, '<span class="meant">low · at 6</span>'),
        ({"kind": "meant", "entry": "e5", "value": "over 6 by 1 in"}, '<span class="meant">over 6 by 2.5 cm</span>'),
        ({"kind": "meant", "entry": "e5", "value": "Fringe from 3 to 9"}, '"meant">fringe from 3 to 9</span>'),
        ({"kind": "order", "entry": "e5", "by": "1"}, "goes in earlier"),
        ({"kind": "brief", "field": "occasion", "value": "birthday"}, 'value="birthday"'),
        ({"kind": "brief", "field": "seen_from", "value": "front"}, '<option value="front" selected'),
        ({"kind": "brief", "field": "across_table", "value": "true"}, "tall, across a table"),
        ({"kind": "brief", "field": "days_to_viewing", "value": "2"}, 'name="value" inputmode="numeric" value="2"'),
        ({"kind": "field", "field": "minutes", "value": "22.5"}, 'value="22.5"'),
        ({"kind": "field", "field": "notes", "value": "Turn it <twice>"}, "Turn it &lt;twice&gt;"),
        ({"kind": "add", "material": "veronica"}, "<b>Veronica</b>"),
        ({"kind": "remove", "entry": "e9"}, "Limonium"),
        ({"kind": "school", "field": "pricing", "value": "slices of the price"}, "£13.87"),
        ({"kind": "school", "field": "pieces", "value": "pieces used"}, "£10.11"),
    ],
)
def test_every_kind_of_change_and_its_undo(
    web: httpx.Client, shop: Shop, table: int, fields: dict[str, str], says: str
) -> None:
    before = shop.load_recipe(table)
    made = change(web, shop, table, **fields)
    assert made.status_code == 200, made.text[:2000]
    assert says in made.text
    assert shop.load_recipe(table).recipe != before.recipe
    assert change(web, shop, table, kind="undo").status_code == 200
    assert shop.load_recipe(table).recipe == before.recipe
    assert says in change(web, shop, table, kind="redo").text


def test_what_is_done_with_foam_is_chosen_and_taken_back(web: httpx.Client, shop: Shop) -> None:
    fender = next(saved.id for saved in shop.load_recipes() if saved.recipe.family == "fender")
    for kind, chosen in (
        ("foam-shows", '<option value="on" selected>may show'),
        ("foam-bevel", "selected>are bevelled"),
    ):
        assert chosen not in web.get(f"/table/{fender}").text
        assert chosen in change(web, shop, fender, kind=kind, value="on").text
    recipe = shop.load_recipe(fender).recipe
    assert (recipe.foam_may_show, recipe.foam_bevelled) == (True, True)
    assert "Bevel its upper edges by 0.8 cm" in web.get(f"/card/{fender}/sheet").text
    assert "selected>are bevelled" not in change(web, shop, fender, kind="undo").text


@pytest.mark.parametrize(
    ("fields", "said"),
    [
        ({"kind": "entry", "entry": "e5", "field": "pieces", "value": "-1"}, "entry 5, pieces</b> is too small (-1)."),
        ({"kind": "entry", "entry": "e5", "field": "pieces", "value": "10000"}, "is too large (10000). Type 300 or"),
        ({"kind": "entry", "entry": "e5", "field": "pieces", "value": "abc"}, "is not a whole number (abc)."),
        ({"kind": "entry", "entry": "e5", "field": "colour", "value": "plaid"}, "Rose does not come in “plaid”."),
        ({"kind": "field", "field": "price_point", "value": "lots"}, "price point</b> is not an amount (lots)."),
        ({"kind": "field", "field": "container", "value": "bucket"}, "the container “bucket” is not in the catalogue."),
        ({"kind": "height", "factor": "0.9"}, "Make it at least 23 cm over all"),
        ({"kind": "height", "factor": "tall"}, "size, rule, factor</b> is not a number (tall)."),
        ({"kind": "own-size", "height": "tall", "width": "25"}, "own height</b> “tall” is not a length. Type one such"),
        ({"kind": "own-size", "height": "20", "width": "25"}, "Make it at least 23 cm over all"),
        ({"kind": "add", "material": "<script>"}, "there is no material “&lt;script&gt;”."),
        ({"kind": "field", "field": "name", "value": "a\x00b"}, "name</b> holds characters it cannot have"),
        ({"kind": "field", "field": "container", "value": "ring-foam-30"}, "cannot be made in “Foam ring"),
        ({"kind": "hard-good", "hard_good": "ribbon-16", "value": "half"}, "quantity</b> is not an amount (half)."),
        ({"kind": "hard-good", "hard_good": "ribbon-16", "value": "1/0"}, "divided by</b> is too small (0)."),
        ({"kind": "hard-good", "hard_good": "glitter", "value": "1"}, "the hard good “glitter” is not in"),
        ({"kind": "nudge", "entry": "e5", "by": "²"}, "is not a number of steps"),
        ({"kind": "dance"}, "is not a change Mirvel knows"),
    ],
)  # fmt: skip
def test_bad_input_names_field_and_mend_keeps_what_was_typed_and_changes_nothing(
    web: httpx.Client, shop: Shop, table: int, fields: dict[str, str], said: str
) -> None:
    before = shop.load_recipe(table)
    answer = change(web, shop, table, **fields)
    assert answer.status_code == 422
    assert said in answer.text
    is_typed = fields.get("field") in {"pieces", "price_point"}
    assert not is_typed or f'value="{fields["value"]}"' in answer.text
    assert shop.load_recipe(table) == before


def test_where_too_many_wait_a_change_is_kept_or_refused_and_never_told_wrong(
    web: httpx.Client, shop: Shop, table: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    def refuse(*asked: object) -> None:
        raise Busy

    with monkeypatch.context() as busy:
        busy.setattr(Workers, "draw", refuse)
        answer = change(web, shop, table, kind="nudge", entry="e8", by="3")
    assert answer.status_code == 200
    assert "It is not drawn yet. Mirvel is working out pieces for many others" in answer.text
    assert shop.load_recipe(table).recipe.find_entry("e8").pieces == 9  # type: ignore[union-attr]
    assert "It is not drawn yet" not in web.get(f"/table/{table}").text
    monkeypatch.setattr(Workers, "build", refuse)
    answer = change(web, shop, table, kind="nudge", entry="e8", by="3")
    assert answer.status_code == 503
    assert shop.load_recipe(table).recipe.find_entry("e8").pieces == 9  # type: ignore[union-attr]
    # what no place or cut comes from asks for no piece to be built or drawn
    for field, value in (("minutes", "13.5"), ("price_point", "44"), ("notes", "For the ferry")):
        assert change(web, shop, table, kind="field", field=field, value=value).status_code == 200
    recipe = shop.load_recipe(table).recipe
    assert (recipe.minutes, recipe.price_point, recipe.notes) == (Decimal("13.5"), Decimal("44"), "For the ferry")


def test_a_stale_change_is_refused_and_shows_the_newest_state(web: httpx.Client, shop: Shop, table: int) -> None:
    old = str(shop.load_recipe(table).state_id)
    change(web, shop, table, kind="nudge", entry="e5", by="1")
    late = change(web, shop, table, kind="nudge", entry="e6", by="-3", read_at=old)
    assert late.status_code == 409
    assert "make your change again" in late.text
    assert 'id="pieces-e5" inputmode="numeric" value="6"' in late.text
    assert shop.load_recipe(table).recipe.find_entry("e6").pieces == 7  # type: ignore[union-attr]


def test_it_works_without_scripts(web: httpx.Client, shop: Shop, table: int) -> None:
    fields = {"read_at": str(shop.load_recipe(table).state_id), "kind": "nudge", "entry": "e5", "by": "1"}
    answer = web.post(f"/table/{table}/change", data=fields, follow_redirects=True)
    assert answer.status_code == 200
    assert "<html" in answer.text
    assert 'id="pieces-e5" inputmode="numeric" value="6"' in answer.text


def test_a_form_of_another_site_changes_nothing(web: httpx.Client, shop: Shop, table: int) -> None:
    fields = {"read_at": str(shop.load_recipe(table).state_id), "kind": "nudge", "entry": "e5", "by": "1"}
    answer = web.post(f"/table/{table}/change", data=fields, headers={"Origin": "http://elsewhere.invalid"})
    assert answer.status_code == 403
    assert not shop.load_recipe(table).can_undo


def test_a_person_may_read_inches_while_centimetres_are_kept(web: httpx.Client, shop: Shop, table: int) -> None:
    page = f"/table/{table}"
    chosen = web.post("/units", data={"unit": "in"}, headers={"Referer": f"http://elsewhere.invalid{page}"})
    assert chosen.headers["location"] == page
    inches = web.get(page).text
    assert ">13¾ in</text>" in inches
    assert re.search(r'class="cut">\d+[¼½¾]?–\d+[¼½¾]?<', inches)
    assert change(web, shop, table, kind="own-size", height="14", width="10").status_code == 200
    assert shop.load_recipe(table).recipe.size.own_height_cm == pytest.approx(14 * 2.54)
    limits = web.get("/checks").text
    assert "<td>15¼ in</td>" in limits  # the sight-line, 38.5 cm
    assert not re.search(r"\d cm", limits)
    web.cookies.clear()
    assert ">35.6 cm</text>" in web.get(page).text


def test_materials_are_found_by_part_of_any_name(web: httpx.Client, table: int) -> None:
    assert "Snapdragon" in web.get(f"/table/{table}/materials", params={"q": "antirr"}).text
    assert "Rose, spray" in web.get(f"/table/{table}/materials", params={"q": "rose spray"}).text
    assert "No material is called “zz”" in web.get(f"/table/{table}/materials", params={"q": "zz"}).text


def test_an_exported_file_comes_back_as_the_same_recipe(web: httpx.Client, shop: Shop, table: int) -> None:
    exported = web.get(f"/table/{table}/recipe.json")
    assert "attachment" in exported.headers["content-disposition"]
    back = web.post("/recipes/file", files={"file": ("x.recipe.json", exported.content)})
    assert back.status_code == 303
    assert shop.load_recipe(int(back.headers["location"].split("/")[-1])).recipe == shop.load_recipe(table).recipe


@pytest.mark.parametrize(
    ("spoil", "said"),
    [
        (lambda text: text[:900], "ends too early"),
        (lambda text: text.replace('"material": "salal"', '"material": "moonflower"'), "“moonflower” is not in"),
        (lambda text: json.dumps({"format": "other"}), "not a Mirvel recipe"),
        (lambda text: "\x00\xff", "is not valid JSON"),
    ],
)  # fmt: skip
def test_a_bad_file_is_refused_by_name_and_nothing_is_added(
    web: httpx.Client, shop: Shop, table: int, spoil: object, said: str
) -> None:
    count = len(shop.load_recipes())
    text = spoil(web.get(f"/table/{table}/recipe.json").text)  # type: ignore[operator]
    answer = web.post("/recipes/file", files={"file": ("x.recipe.json", text.encode())})
    assert answer.status_code == 422
    assert said in answer.text
    assert len(shop.load_recipes()) == count


_KINDS = (
    {"kind": "nudge", "entry": "e2", "by": "1"},
    {"kind": "entry", "entry": "e2", "field": "colour", "value": "burgundy"},
    {"kind": "entry", "entry": "e3", "field": "role", "value": "mass"},
    {"kind": "entry", "entry": "e5", "field": "piece", "value": "top piece"},
    {"kind": "entry", "entry": "e1", "field": "least", "value": "2"},
    {"kind": "entry", "entry": "e2", "field": "locked", "value": "true"},
    {"kind": "entry", "entry": "e3", "field": "outline", "value": "breaks the outline"},
    {"kind": "meant", "entry": "e2", "value": "low"},
    {"kind": "order", "entry": "e3", "by": "-1"},
    {"kind": "entry", "entry": "e3", "field": "pieces", "value": "0"},
    {"kind": "alternative", "entry": "e3", "material": "carnation-standard", "colour": "pink", "value": "on"},
    {"kind": "field", "field": "price_point", "value": "58"},
    {"kind": "field", "field": "notes", "value": "Turn it once."},
    {"kind": "wish", "field": "focal_from", "value": "20"},
    {"kind": "brief", "field": "occasion", "value": "thanks"},
    {"kind": "hard-good", "hard_good": "wire-080", "value": "2"},
    {"kind": "size", "field": "mode", "value": "own"},
    {"kind": "undo"},
    {"kind": "remove", "entry": "e6"},
)


def find_parts(page: str) -> Iterator[tuple[str, str, str | None]]:
    """Each part of a page that has a mark: its id, the mark, and what stands in it; None where that is left out."""
    for part in re.finditer(r'<(\w+) id="([^"]+)" class="[^"]*" data-mark="(\w+)"([^>]*)>', page):
        depth = 1
        for tag in re.finditer(rf"<(/?){part[1]}\b", page[part.end() :]):
            depth += -1 if tag[1] else 1
            if not depth:
                inside = page[part.end() : part.end() + tag.start()]
                yield part[2], part[3], None if "data-same" in part[4] else inside.strip()
                break


def test_what_an_answer_leaves_out_is_what_the_page_has(web: httpx.Client, shop: Shop) -> None:
    table = shop.read_recipes("three-buoys").rows[0].id

    def read() -> dict[str, tuple[str, str | None]]:
        page = re.sub(r'name="read_at" value="\d+"', "", web.get(f"/table/{table}").text)
        return {name: (mark, inside) for name, mark, inside in find_parts(page)}

    before, left_out = read(), 0
    for fields in _KINDS:
        marks = ",".join(f"{name}={mark}" for name, (mark, _) in before.items())
        answer = change(web, shop, table, marks=marks, **fields)
        assert answer.status_code == 200, (fields, answer.text[:300])
        after = read()
        for name, mark, inside in find_parts(answer.text):
            if inside is None:
                left_out += 1
                assert before[name] == after[name], (fields, name)
                assert mark == after[name][0]
        before = after
    assert left_out > 12 * len(_KINDS)


def test_a_drawing_without_what_is_known_is_the_drawing(web: httpx.Client, shop: Shop, table: int) -> None:
    """What was named only, put back from the drawing that stood there, makes the drawing a new page has."""

    def find_drawing(page: str) -> str:
        return page.split('class="drawing" ')[1].split("</svg>")[0]

    named = r'<g data-key="([^"]+)"[^>]*>(?:(?!</?g\b).)*</g>'
    shown = web.get(f"/table/{table}").text
    for fields in ({"kind": "hold", "piece": "e4.1"}, {"kind": "move", "piece": "e4.1", "right": "2", "up": "-1"}):
        found = re.finditer(named, find_drawing(shown))
        have = {f'<g data-key="{each[1]}" data-same=""/>': each[0] for each in found}
        mark = find_drawing(shown).split('"')[1]
        part = find_drawing(change(web, shop, table, marks=f"drawing={mark}", **fields).text)
        shown = web.get(f"/table/{table}").text
        assert part.count("data-same") > 60
        for name, drawn in have.items():
            part = part.replace(name, drawn)
        assert part == find_drawing(shown)


def test_the_top_of_a_piece_is_typed_and_what_is_out_of_reach_is_told_and_kept(web: httpx.Client, shop: Shop) -> None:
    look = {"piece": "e6.2"}
    part = web.get("/table/10/drawing", params=look, headers={"HX-Request": "true"})
    assert 'id="piece-top"' in part.text
    state = shop.load_recipe(10).state_id
    asked = {"kind": "top", "piece": "e6.2", "read_at": str(state)}
    high = web.post("/table/10/change", params=look, data={**asked, "value": "99"})
    assert high.status_code == 422
    assert "Type a height from" in high.text
    assert 'value="99"' in high.text
    held = web.post("/table/10/change", params=look, data={**asked, "value": "12.5"})
    assert held.status_code in {200, 303}
    entry = shop.load_recipe(10).recipe.find_entry("e6")
    assert entry
    assert [pin.number for pin in entry.pins] == [2]


def test_a_finding_is_let_stand_with_a_reason_kept_with_the_recipe_and_told_again(
    web: httpx.Client, shop: Shop, table: int
) -> None:
    over = change(web, shop, table, kind="field", field="price_point", value="28").text
    assert "over the flower money" in over
    assert "Let stand (" not in over
    empty = change(web, shop, table, kind="accept", finding="overfilled", value=" ")
    assert empty.status_code == 422
    assert "Type why" in empty.text
    assert "over the flower money" in empty.text
    let = change(web, shop, table, kind="accept", finding="overfilled", value="A gift <b>of ours</b>").text
    assert "Let stand (1)" in let
    assert "A gift &lt;b&gt;of ours&lt;/b&gt;" in let
    assert 'All <a href="/checks">' in let
    assert [each.reason for each in shop.load_recipe(table).recipe.accepted] == ["A gift <b>of ours</b>"]
    more = change(web, shop, table, kind="nudge", entry="e5", by="1").text  # dearer by a rose than what was let stand
    assert "Let stand (" not in more
    assert "over the flower money" in more
    change(web, shop, table, kind="undo")
    assert change(web, shop, table, kind="accept", finding="no-such", value="why").status_code == 422
    again = change(web, shop, table, kind="tell-again", finding="overfilled").text
    assert "Let stand (" not in again
    assert 'class="stop"' in again
    assert web.get("/checks").text.count("<tr id=") == len(DECLARED)


def test_a_finding_is_put_right_after_what_it_brings_was_seen_and_taken_back(
    web: httpx.Client, shop: Shop, table: int
) -> None:
    change(web, shop, table, kind="field", field="price_point", value="38")
    before = shop.load_recipe(table).recipe
    seen = web.get(f"/table/{table}/mend?finding=overfilled", headers=HTMX)
    assert seen.status_code == 200
    assert "over the flower money" in seen.text  # what is gone with it
    assert shop.load_recipe(table).recipe == before  # looking changes nothing
    page = change(web, shop, table, kind="put-right", finding="overfilled").text
    assert "over the flower money" not in page
    change(web, shop, table, kind="undo")
    assert [each.pieces for each in shop.load_recipe(table).recipe.entries] == [each.pieces for each in before.entries]
    gone = web.get(f"/table/{table}/mend?finding=no-such", headers=HTMX)
    assert gone.status_code == 422
    assert "not found any more" in gone.text
    assert web.get(f"/table/{table}/mend", headers=HTMX).status_code == 200
