"""From a recipe to its stems and its money under each school, and what a change of costs did to it.

What a good costs belongs to ``buying/``.
"""
