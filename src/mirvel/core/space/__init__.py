"""Geometry without flowers: vectors, outlines, segments, circles in circles.

What a form or a container looks like belongs to ``forms/`` and ``vessels/``.
"""
