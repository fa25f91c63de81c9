"""Fitting counts to a price: the fullest true version of a recipe, proven, with the reasons.

``lines.py`` makes plain numbers of a recipe, ``penalty.py`` says what an answer is worth, ``model.py`` hands both to
the exact solver, ``fitting.py`` turns its answer into a recipe with sums and reasons. ``extras.py``, ``ladder.py``,
``repair.py``, ``substitutes.py`` and ``clashes.py`` are what is asked around it. The solver is loaded on first use.
"""
