"""PostgreSQL where one file is not enough."""
