"""The book on the disk: one SQLite file in the data folder."""
