"""Worked recipes to SVG: pure functions, one user unit to the millimetre, the same bytes for the same input.

Knows the core's values and nothing of pricing, storage or the web. Symbols (one per form, colour, openness and
tone) are defined once and reused by reference, which keeps sixty pieces small.
"""
