"""Opening a book: a file or a server, one writer at a time, brought up to date."""
