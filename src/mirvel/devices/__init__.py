"""Things outside the process: how the app speaks to them, and a stand-in for each that speaks the same way.

A stand-in is a small process of its own on loopback. It can be told how to behave (``POST /mode`` with the name of
a mode), and ends by itself when its standard input closes, so that none outlives the app that began it.
"""
