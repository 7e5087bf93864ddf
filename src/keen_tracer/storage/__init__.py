"""PostgreSQL: the only place that imports psycopg. Plain SQL, named queries, numbered
migrations."""
