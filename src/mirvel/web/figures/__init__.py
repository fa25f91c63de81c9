"""Figures: drawings under an address made from their content, so that a browser asks for each one once."""

import gzip

from fastapi import APIRouter, Request, Response

from mirvel.core.values.problems import BadInput, Problem
from mirvel.web.requests import ShopHere

router = APIRouter(prefix="/figures")
_FOR_GOOD = "private, max-age=31536000, immutable"


@router.get("/{address}.svg")
def show_figure(request: Request, address: str, shop: ShopHere) -> Response:
    """One drawing, packed where the browser takes it so."""
    packed = shop.figures.find(address)
    if packed is None:
        raise BadInput(Problem("drawing", "is not kept any more.", "Load the page again."))
    headers = {"Cache-Control": _FOR_GOOD, "Vary": "Accept-Encoding"}
    if "gzip" in request.headers.get("accept-encoding", ""):
        return Response(packed, media_type="image/svg+xml", headers={**headers, "Content-Encoding": "gzip"})
    return Response(gzip.decompress(packed), media_type="image/svg+xml", headers=headers)
