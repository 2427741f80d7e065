"""A book looked after: checked, copied, taken along, thinned."""
