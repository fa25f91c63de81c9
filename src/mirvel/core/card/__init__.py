"""How a person is told: steps, cut list, cutting plan, the piece on another day.

Nothing here decides anything about the piece.
"""
