"""The Book picture, and the page of a trial."""
