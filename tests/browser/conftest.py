"""One browser for all browser tests; each begins with the demo shop as new, and leaves no page open that asks on."""

from collections.abc import Iterator

import pytest

from mirvel.store.shop import Shop
from tests.browser.driving import Page, drive


@pytest.fixture(scope="session")
def _one_browser(address: str) -> Iterator[Page]:
    with drive(address) as page:
        yield page


@pytest.fixture
def page(_one_browser: Page, shop: Shop) -> Iterator[Page]:
    """A browser before a new demo shop, with no page open yet."""
    _one_browser.set_viewport(1280, 800)
    yield _one_browser
    _one_browser.driver.get("about:blank")
