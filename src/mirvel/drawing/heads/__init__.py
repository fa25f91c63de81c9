"""Drawings of heads and leaves, one module a form.

Round heads are drawn 100 units wide about the origin, facing the eye, and from the side with the front at the
origin and the stem downwards. Spikes and leaves run from the origin upwards, 100 units long. Each drawing is a
string of SVG elements; ``get_art`` finds the drawing of a form and habit.
"""

from mirvel.drawing.heads.art import Art, get_art

__all__ = ["Art", "get_art"]
