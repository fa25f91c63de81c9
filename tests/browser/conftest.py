"""One browser for all browser tests; each begins with the demo shop as new, at the Shelf."""

from collections.abc import Iterator

import pytest

from mirvel.store.shop import Shop
from tests.browser.driving import Page, drive


@pytest.fixture(scope="session")
def browser(address: str) -> Iterator[Page]:
    with drive(address) as page:
        yield page


@pytest.fixture
def page(browser: Page, shop: Shop) -> Page:
    browser.set_viewport(1280, 800)
    browser.open("/")
    return browser
