"""A headless Chromium with a true viewport, and waiting on conditions rather than on time."""

import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TypeVar

from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.wait import WebDriverWait

Found = TypeVar("Found")

_OPTIONS = """
--headless --no-sandbox --disable-gpu --disable-dev-shm-usage --no-first-run --disable-background-networking
--disable-component-update --disable-sync --disable-quic --hide-scrollbars --force-device-scale-factor=1
"""


class Page:
    """A page as a person uses it: looking at it, pressing keys, waiting until it says something."""

    def __init__(self, driver: webdriver.Chrome, address: str) -> None:
        self.driver, self.address = driver, address

    def open(self, path: str) -> None:
        self.driver.get(self.address + path)

    def wait(self, condition: Callable[[], Found], what: str, patience_s: float = 20) -> Found:
        """Until a condition holds, through parts of the page being exchanged meanwhile."""
        waiting = WebDriverWait(self.driver, patience_s, 0.05, ignored_exceptions=(StaleElementReferenceException,))
        return waiting.until(lambda _: condition(), what)

    def settle(self) -> None:
        """Until every answer asked for has come and stands on the page."""
        busy = ".htmx-request, .htmx-swapping, .htmx-settling, [aria-busy=true]"
        self.wait(lambda: self.count(busy) == 0, "the page to settle")

    def wait_value(self, css: str, expected: str) -> None:
        self.wait(lambda: self.value(css) == expected, f"{css} to hold {expected}")

    def wait_text(self, css: str, part: str) -> None:
        self.wait(lambda: part in self.read(css).lower(), f"{css} to say {part}")

    def wait_count(self, css: str, expected: int) -> None:
        self.wait(lambda: self.count(css) == expected, f"{expected} of {css}")

    def read(self, css: str) -> str:
        return self._ask(lambda: self.driver.find_element(By.CSS_SELECTOR, css).text, css)

    def value(self, css: str) -> str:
        return self._ask(lambda: self.driver.find_element(By.CSS_SELECTOR, css).get_attribute("value") or "", css)

    def _ask(self, question: Callable[[], str], css: str) -> str:
        """The answer, asked again where the part of the page was exchanged between finding and reading it."""
        return self.wait(lambda: (question(),), f"{css} to stay until it was read")[0]

    def count(self, css: str) -> int:
        return len(self.driver.find_elements(By.CSS_SELECTOR, css))

    def click(self, css: str) -> None:
        """Click it, once it stays on the page long enough to be clicked."""

        def clicked() -> bool:
            self.driver.find_element(By.CSS_SELECTOR, css).click()
            return True

        self.wait(clicked, f"{css} to be clicked")

    def press(self, *keys: str) -> None:
        for key in keys:
            webdriver.ActionChains(self.driver).send_keys(key).perform()

    def type(self, css: str, text: str) -> None:
        field = self.driver.find_element(By.CSS_SELECTOR, css)
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text)

    def set_viewport(self, width: int, height: int) -> None:
        size = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)


@contextmanager
def drive(address: str) -> Iterator[Page]:
    """A fresh browser on an address."""
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
        options = webdriver.ChromeOptions()
        options.binary_location = "/usr/bin/chromium"
        for option in (
            *_OPTIONS.split(),
            f"--user-data-dir={profile}",
            "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost",
        ):
            options.add_argument(option)
        driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
        try:
            page = Page(driver, address)
            page.set_viewport(1280, 800)
            yield page
        finally:
            driver.quit()
