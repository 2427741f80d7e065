"""The bench ``wire``: the rig runs its loads where it is; the book, and who judges, are here.

What dies with the rig is then seconds of samples. Its end is seen from here: when, how, and what was heard just before.
"""
