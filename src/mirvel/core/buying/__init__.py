"""What a good costs, landed, and how that came: suppliers, price lists and their review, receiving, variances.

What a recipe makes of costs belongs to ``pricing/``.
"""
