"""Mistakes people make in rules that cosmic-ray does not know: a number of another size, one function for its
opposite."""

import re
from collections.abc import Iterator

from cosmic_ray.operators.operator import Example, Operator
from parso.python.tree import Name, Number, String
from parso.tree import NodeOrLeaf

Position = tuple[tuple[int, int], tuple[int, int]]
_A_HAIR = 1e-4  # what is smaller lets rounding pass, and is no rule
_SMALL = 3  # a whole number up to this is a count: one more or fewer, rather than half or twice
_OPPOSITES = {"min": "max", "max": "min", "any": "all", "all": "any", "floor": "ceil", "ceil": "floor"}


class ScaleNumber(Operator):  # type: ignore[misc]
    """A number twice or half of what it should be, or one off where it is a small count; decimals in quotes too."""

    def mutation_positions(self, node: NodeOrLeaf) -> Iterator[Position]:
        for _ in _scale(node):
            yield node.start_pos, node.end_pos

    def mutate(self, node: NodeOrLeaf, index: int) -> NodeOrLeaf:
        assert isinstance(node, Number | String)
        node.value = _scale(node)[index]
        return node

    @classmethod
    def examples(cls) -> tuple[Example, ...]:
        return Example("x = 0.35", "x = 0.175"), Example('x = Decimal("5")', 'x = Decimal("10")', occurrence=1)


def _scale(node: NodeOrLeaf) -> list[str]:
    """What may stand in a number's place."""
    if isinstance(node, String):
        bare = node.value.strip("\"'")
        if not re.fullmatch(r"\d+(\.\d+)?", bare) or not float(bare) or not _is_in_decimal(node):
            return []
        return [f'"{float(bare) / 2:g}"', f'"{float(bare) * 2:g}"']
    if not isinstance(node, Number) or not re.fullmatch(r"[\d_]+(\.\d+)?(e-?\d+)?", node.value):
        return []
    number = float(node.value)
    if node.value.isdigit() and number <= _SMALL:
        return [str(int(number) + 1), *([str(int(number) - 1)] if number else [])]
    if node.value.replace("_", "").isdigit():
        return [str(int(number) // 2), str(int(number) * 2)]
    if 0 < number < _A_HAIR:
        return []
    return [f"{number / 2:g}", f"{number * 2:g}"] if number else ["1.0"]


def _is_in_decimal(node: String) -> bool:
    called = node.parent and node.parent.get_previous_sibling()
    return isinstance(called, Name) and called.value == "Decimal"


class SwapName(Operator):  # type: ignore[misc]
    """The smaller for the larger, up for down, one for all."""

    def mutation_positions(self, node: NodeOrLeaf) -> Iterator[Position]:
        if isinstance(node, Name) and node.value in _OPPOSITES:
            yield node.start_pos, node.end_pos

    def mutate(self, node: NodeOrLeaf, index: int) -> NodeOrLeaf:
        assert isinstance(node, Name)
        node.value = _OPPOSITES[node.value]
        return node

    @classmethod
    def examples(cls) -> tuple[Example, ...]:
        return (Example("x = min(a, b)", "x = max(a, b)"),)
