"""HTML to PDF at true scale, in Mirvel's own faces, fetching nothing but the app's own static files.

Large drawings are handed over beside the page, which shows them as ``<img src="picture:NAME">``: inside it, every line
of them is looked at as a part of the page as well, which takes a third of the time of a card.
"""

from collections.abc import Mapping
from functools import cache
from pathlib import Path

import weasyprint
from weasyprint.text.fonts import FontConfiguration
from weasyprint.urls import URLFetcher, URLFetcherResponse

_STATIC = Path(__file__).with_name("static")
_PICTURE = "picture:"
_NONE: Mapping[str, str] = {}


class _OwnFiles(URLFetcher):  # type: ignore[misc]  # the library carries no types
    """Opens files of the app's static folder and the pictures given, and refuses everything else."""

    def __init__(self, pictures: Mapping[str, str] = _NONE) -> None:
        super().__init__()
        self._pictures = pictures

    def fetch(self, url: str, headers: dict[str, str] | None = None) -> URLFetcherResponse:
        if url.startswith(_PICTURE):
            picture = self._pictures[url.removeprefix(_PICTURE)]
            return URLFetcherResponse(url, picture.encode(), {"Content-Type": "image/svg+xml"})
        if not url.startswith(_STATIC.as_uri() + "/") or ".." in url:
            raise ValueError(f"a print may not fetch {url}")
        return super().fetch(url, headers)


def make_pdf(page: str, pictures: Mapping[str, str] = _NONE) -> bytes:
    """A page as PDF, with the drawings (SVG) that it shows by name."""
    fetcher = _OwnFiles(pictures)
    pdf: bytes = weasyprint.HTML(string=page, url_fetcher=fetcher).write_pdf(font_config=_load_faces())
    return pdf


def count_pages(page: str) -> int:
    """How many sheets a page takes."""
    return len(weasyprint.HTML(string=page, url_fetcher=_OwnFiles()).render(font_config=_load_faces()).pages)


@cache
def _load_faces() -> FontConfiguration:
    """The faces of prints, unpacked once for all that a process prints."""
    faces = FontConfiguration()
    weasyprint.CSS(filename=_STATIC / "fonts.css", font_config=faces, url_fetcher=_OwnFiles())
    return faces
