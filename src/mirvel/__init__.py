"""Mirvel: a recipe is a measured drawing that prices itself."""

__version__ = "0.1.0"
