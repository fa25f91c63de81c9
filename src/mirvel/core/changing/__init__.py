"""What a person may do to a recipe: change a field, move a piece, share a palette, begin from a sample.

Every change goes through the document's own validation.
"""
