"""Bucket labels as PDF at true size, one label a page."""

from fastapi import Request

from mirvel.core.buying.receiving import Label
from mirvel.web.working import Desk

WIDTH_MM, HEIGHT_MM = 100, 62


def print_labels(request: Request, desk: Desk, labels: tuple[Label, ...]) -> bytes:
    """The labels as a PDF, made beside the app."""
    from mirvel.web.pdf import make_pdf  # slow to import: only when something is printed

    template = request.app.state.templates.env.get_template("receiving/labels.html")
    page = template.render(labels=labels, rules=desk.rules, width=WIDTH_MM, height=HEIGHT_MM)
    return desk.workers.slow.ask("labels", make_pdf, page)
