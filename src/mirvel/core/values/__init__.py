"""Plain values everything else is made of: faults of data, lengths and their units, money, the frozen document.

Nothing of flowers belongs here.
"""
