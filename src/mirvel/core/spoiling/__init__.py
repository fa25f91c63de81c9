"""Faults put into pieces that have none: how well the checks find them is measured by these."""
