"""Ribbon text: how long it is at a letter height, and whether it fits its ribbon.

Advance widths are those of the text face the app ships, in thousandths of its size, so that what is measured here is
what is drawn and printed. Kerning is not counted; it would make a line a little shorter, never longer by much.
"""

import unicodedata
from dataclasses import dataclass

from mirvel.core.recipe.taking import Taken

# fmt: off
_BY_WIDTH = (
    (198, "'"),
    (229, ' \xa0'),
    (230, '.'),
    (236, '‘'),
    (237, '’'),
    (238, ','),
    (246, '·'),
    (247, 'j'),
    (248, '¡'),
    (252, '|¦'),
    (253, ':'),
    (268, ';'),
    (269, 'l¹'),
    (270, '!'),
    (280, 'iìíîïı'),
    (285, '()'),
    (322, '{}'),
    (328, '['),
    (330, ']³'),
    (338, 'IÌÍÎÏ'),
    (342, 't'),
    (345, 'f'),
    (350, '²'),
    (354, '"-\xad'),
    (384, 's'),
    (385, '°'),
    (394, 'r'),
    (401, '/\\'),
    (410, '_“'),
    (412, '”'),
    (431, 'z'),
    (433, '¿'),
    (435, '*'),
    (437, 'cç'),
    (440, '?'),
    (446, 'J'),
    (449, 'ª'),
    (454, 'º'),
    (460, 'a¤àáâãäå'),
    (462, 'eèéêë'),
    (496, 'g'),
    (500, '`¨¯´¸'),
    (505, '«'),
    (507, 'x'),
    (512, '+<=>^~¬±×÷'),
    (520, '–'),
    (522, '»'),
    (524, 'y§ýÿ'),
    (526, 'oòóôõö'),
    (527, 'v'),
    (536, 'uùúûü'),
    (537, 'ð'),
    (540, 'k'),
    (544, 'qþ'),
    (546, 'bø'),
    (549, '®'),
    (554, 'S'),
    (556, 'd'),
    (561, 'h'),
    (564, 'pµ'),
    (566, '#$0123456789¢£¥'),
    (572, 'nñ'),
    (592, 'F'),
    (602, 'L¶'),
    (609, 'P'),
    (622, 'ß'),
    (623, 'Þ'),
    (634, 'Z'),
    (640, 'EÈÉÊË'),
    (641, '…'),
    (644, 'B'),
    (645, 'R'),
    (670, 'T'),
    (684, 'YÝ'),
    (686, '—'),
    (692, 'V'),
    (705, 'CÇ'),
    (710, 'AÀÁÂÃÄÅæ'),
    (717, '&'),
    (718, 'X'),
    (730, 'K'),
    (742, '¾'),
    (743, 'w'),
    (750, '¼'),
    (751, 'G'),
    (763, 'D'),
    (764, 'Ð'),
    (768, 'UÙÚÛÜ'),
    (770, 'NÑ'),
    (776, 'OQÒÓÔÕÖ'),
    (780, '%'),
    (788, '½'),
    (792, 'Ø'),
    (800, 'H'),
    (819, '©'),
    (830, 'œ'),
    (832, 'm'),
    (891, '@'),
    (966, 'W'),
    (979, 'M'),
    (993, 'Æ'),
    (1052, 'Œ'),
)
# fmt: on
_WIDTHS = {letter: width for width, letters in _BY_WIDTH for letter in letters}
_WIDEST = max(_WIDTHS.values())
CAPITAL_SHARE = 0.67  # height of a capital as a share of the face's size
LETTER_SHARE = 0.45  # a capital's height as a share of the ribbon's width (assumption)
END_CM = 4.0  # kept free at either end of a ribbon (assumption)


@dataclass(frozen=True)
class RibbonFit:
    """One line on its ribbon: how long it is, the room there is, and the height of its capitals, all in cm."""

    text: str
    length_cm: float
    room_cm: float
    capital_cm: float

    @property
    def fits(self) -> bool:
        return self.length_cm <= self.room_cm + 1e-9


def measure_cm(text: str, capital_cm: float) -> float:
    """How long a line is whose capitals are so high; a letter the face lacks counts as its plain one, or the widest.

    >>> measure_cm("", 3.0)
    0.0
    """
    size = capital_cm / CAPITAL_SHARE
    return sum(_get_width(letter) for letter in text) / 1000 * size


def _get_width(letter: str) -> int:
    plain = unicodedata.normalize("NFD", letter)[:1]
    return _WIDTHS.get(letter) or _WIDTHS.get(plain, _WIDEST)


def fit_ribbon(text: str, ribbon_cm: float, width_cm: float) -> RibbonFit:
    """A line of text on a ribbon so long and so wide."""
    capital = LETTER_SHARE * width_cm
    return RibbonFit(text, measure_cm(text, capital), max(0.0, ribbon_cm - 2 * END_CM), capital)


def get_ribbon_fits(taken: Taken) -> tuple[RibbonFit, ...]:
    """Every ribbon line of a service on its ribbon; none where no ribbon with a width is chosen."""
    service, width = taken.recipe.brief.service, taken.ribbon.ribbon_cm if taken.ribbon else None
    if not (service and width):
        return ()
    return tuple(fit_ribbon(line.text, service.ribbon_length_cm, width) for line in service.ribbon_lines)
