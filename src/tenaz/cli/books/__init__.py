"""``tenaz book VERB``: a book looked after."""
