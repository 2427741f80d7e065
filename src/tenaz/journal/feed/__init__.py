"""What a book tells other books of itself: each thing once, in the order in which it was touched; away and home."""
