"""Commands about rigs, their sheets and their parts."""
