"""Words of names and sentences: splitting, stemming, classes of verbs, units, and what a text claims.

Import from the modules themselves, as most commands need only the small ones.
"""
