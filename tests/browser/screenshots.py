"""Takes the pictures of docs/screenshots from the running demo: ./run demo in one window, this in another."""

import base64
import subprocess
import sys
import tempfile
from pathlib import Path

import httpx

from mirvel.settings import PROJECT_ROOT, Settings
from tests.browser.driving import Page, drive

SHOTS = PROJECT_ROOT / "docs/screenshots"


def shoot(page: Page, name: str, path: str, size: tuple[int, int]) -> None:
    page.set_viewport(*size)
    page.open(path)
    page.wait(lambda: page.driver.execute_script("return document.fonts.status === 'loaded'"), "the fonts")
    picture = page.driver.execute_cdp_cmd("Page.captureScreenshot", {"format": "png"})["data"]
    (SHOTS / name).write_bytes(base64.b64decode(picture))


def main() -> int:
    settings = Settings()
    address = f"http://{settings.host}:{settings.port}"
    httpx.get(address + "/healthz").raise_for_status()
    SHOTS.mkdir(parents=True, exist_ok=True)
    with drive(address) as page:
        shoot(page, "shelf.png", "/", (1280, 800))
        shoot(page, "table.png", "/table/4", (1280, 800))
        shoot(page, "table-1024.png", "/table/2", (1024, 768))
    with tempfile.TemporaryDirectory() as folder:
        pdf = Path(folder) / "card.pdf"
        pdf.write_bytes(httpx.get(f"{address}/card/4/card.pdf", timeout=60).content)
        subprocess.run(["pdftoppm", "-r", "96", "-png", "-singlefile", str(pdf), str(SHOTS / "card")], check=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
