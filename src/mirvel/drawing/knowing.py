"""A drawing for a page that shows another of the same piece: what is the same in both is only named."""

import re

from markupsafe import Markup

# A named piece or stem with nothing grouped in it.
_NAMED = re.compile(r'<g data-key="([^"]+)"[^>]*>[^<]*(?:<(?!/?g\b)[^<]*)*</g>')


def leave_out(body: Markup, known: Markup) -> Markup:
    """What a drawing shows, its named parts left empty and marked as the same where a known drawing has them alike."""
    have = {found[1]: found[0] for found in _NAMED.finditer(known)}

    def shorten(found: re.Match[str]) -> str:
        is_known = have.get(found[1]) == found[0]
        return f'<g data-key="{found[1]}" data-same=""/>' if is_known else found[0]

    return Markup(_NAMED.sub(shorten, body))
