"""How often Python looks for what is no longer used but holds on to itself."""

import gc

_MOST_NEW = 100_000  # objects; what is built and drawn is large, and none of it holds on to itself


def collect_seldom() -> None:
    """Look for it seldom: to look often takes a twelfth of the time of all that is built and drawn."""
    gc.set_threshold(_MOST_NEW, 20, 50)
