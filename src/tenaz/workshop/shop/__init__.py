"""The workshop: the one door; joined from outside; aboard the stick."""
