"""The far side of a wire: the machine under load answers for its parts, guards, and keeps notes for the book."""
