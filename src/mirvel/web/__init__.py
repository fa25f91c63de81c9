"""The app: one package a room, with its routes, templates and partials beside each other.

Routes read the request into core values, make one call, and render; nothing here computes a price, a cut or a
check.
"""
