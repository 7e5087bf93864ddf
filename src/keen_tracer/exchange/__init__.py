"""Open files in and out. Knows cells, columns and files; knows nothing of the database."""
