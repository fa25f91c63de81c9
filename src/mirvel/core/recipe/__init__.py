"""The document: entries, brief, service, size, what is asked of a fit. What is stored, exported and worked out.

A document says what is wanted; nothing here works anything out.
"""
