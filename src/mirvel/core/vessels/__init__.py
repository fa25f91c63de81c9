"""The inside of what holds stems: hollows of vases, foam and pins, beds of frames, bricks, the tape grid.

Where a stem goes in belongs to ``placing/``, how long it is to ``making/``.
"""
