"""Work that begins and ends by itself: demo books, reports of them, a stick's book brought home."""
