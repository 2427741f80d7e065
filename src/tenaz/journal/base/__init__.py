"""What every part of the book stands on: tables, transactions, values to JSON and back."""
