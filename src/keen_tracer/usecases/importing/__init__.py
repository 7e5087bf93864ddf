"""Open files into the database: validated, all or nothing."""
