"""The shapes a piece may have: surface and sites, wishes by role, the words for a place.

One file a form in ``kinds/``. Which flower takes which site belongs to ``placing/``.
"""
