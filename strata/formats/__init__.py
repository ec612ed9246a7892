"""Reading and writing: everything that crosses the edge of the core as a file."""
