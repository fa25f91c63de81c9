"""Which piece goes where: sizes, build order, sites, tips and entry points.

No lengths are cut here and nothing is judged.
"""
