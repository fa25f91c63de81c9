"""What a shop has: stems, containers, hard goods, pieces made ahead; their heads, colours and hazards.

What a good costs to get, and how that came, belongs to ``buying/``.
"""
