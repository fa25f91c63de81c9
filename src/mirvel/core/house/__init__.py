"""The rules of one shop and what a design may choose: schools, mark-ups, height rules, ways of arranging.

Nothing here is worked out.
"""
