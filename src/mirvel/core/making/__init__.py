"""What follows from places and from no cost: cuts, foam, water, balance, cover, sight, ribbon, times; the ``Build``.

Whether any of it is good enough belongs to ``judging/``.
"""
