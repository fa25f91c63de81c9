"""The rooms against WCAG 2.2 A and AA rules, checked by a vendored open checker in the real browser."""

from pathlib import Path

import pytest

from tests.browser.driving import Page

CHECKER = Path(__file__).with_name("vendor") / "axe.min.js"
BUYING = [
    "/buckets",
    "/buckets/materials/rose-standard",
    "/buckets/assemblies/bow-five",
    "/buckets/new",
    "/suppliers",
    "/receiving",
    "/repairs",
    "/repairs/10",
    "/ladder/10?prices=42,58",
    "/table/10/substitutes?entry=e5",
]
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]


DRAWN = ("/table/10", "/table/10/places", "/gallery", "/card/10", "/card/10/sheet")


@pytest.mark.parametrize("path", ["/", *DRAWN, "/nowhere", *BUYING])
def test_rooms_keep_to_wcag(page: Page, path: str) -> None:
    page.open(path)
    page.driver.execute_script(CHECKER.read_text("utf-8"))
    script = (
        "axe.run(document, {runOnly: arguments[0], iframes: false}).then(r => arguments[1]"
        "(r.violations.map(v => v.id + ': ' + v.nodes.slice(0, 3).map(n => n.html.slice(0, 160)).join(' | '))))"
    )
    assert page.driver.execute_async_script(script, RULES) == []


def test_everything_on_the_table_is_reached_and_named_without_a_mouse(page: Page) -> None:
    page.open("/table/10")
    script = """
        return [...document.querySelectorAll('button, input:not([type=hidden]), select, a, summary')]
          .filter(e => !e.closest('dialog') && !e.disabled)
          .filter(e => e.tabIndex < 0 || !(e.ariaLabel || e.textContent.trim() || e.labels?.length))
          .map(e => e.outerHTML)
    """
    assert page.driver.execute_script(script) == []
