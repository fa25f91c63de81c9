"""What is wrong or worth knowing of a worked recipe, and what in it could hurt somebody.

What is measured is measured in ``making/`` and ``pricing/``; here it meets its limit.
"""
