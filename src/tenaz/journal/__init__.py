"""The book: tables, mapping, store and migrations. SQLite by default, any SQLAlchemy URL."""
