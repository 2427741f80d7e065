"""What is worked on: the open book, one rig on one bench, who is asked."""
