"""Bucket labels as PDF at true size, one label a page."""

from fastapi import Request
from markupsafe import Markup

from mirvel.core.buying.receiving import Label
from mirvel.core.house.rules import HouseRules

WIDTH_MM, HEIGHT_MM = 100, 62


def print_labels(request: Request, labels: tuple[Label, ...], rules: HouseRules) -> bytes:
    """The labels as a PDF."""
    from mirvel.web.pdf import STATIC, make_pdf  # slow to import: only when something is printed

    template = request.app.state.templates.env.get_template("receiving/labels.html")
    fonts = Markup(STATIC.as_uri())
    page = template.render(labels=labels, rules=rules, static=fonts, width=WIDTH_MM, height=HEIGHT_MM)
    return make_pdf(page)
