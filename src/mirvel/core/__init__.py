"""The rules of the job: plain frozen values in, plain values out.

Nothing in here knows the web, a database, a file, a clock or a random source; the same input always gives
the same output. Lengths are cm, masses g, volumes ml, times minutes, money ``Decimal`` in the shop's
currency. Verbs: ``get_`` computes, ``find_`` may return None, ``check_`` returns problems.
"""
