"""HTML to PDF at true scale, in Mirvel's own faces, fetching nothing but the app's own static files."""

from functools import cache
from pathlib import Path

import weasyprint
from weasyprint.text.fonts import FontConfiguration
from weasyprint.urls import URLFetcher, URLFetcherResponse

_STATIC = Path(__file__).with_name("static")


class _OwnFiles(URLFetcher):  # type: ignore[misc]  # the library carries no types
    """Opens files of the app's static folder and refuses everything else."""

    def fetch(self, url: str, headers: dict[str, str] | None = None) -> URLFetcherResponse:
        if not url.startswith(_STATIC.as_uri() + "/") or ".." in url:
            raise ValueError(f"a print may not fetch {url}")
        return super().fetch(url, headers)


def make_pdf(page: str) -> bytes:
    """A page as PDF."""
    pdf: bytes = weasyprint.HTML(string=page, url_fetcher=_OwnFiles()).write_pdf(font_config=_load_faces())
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
