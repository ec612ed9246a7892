"""Inks in tables: comma-separated text, CGATS.17 and palettes, read row by row and written back identical."""

from strata.formats.tables.model import FIELDS, Draft, Interpreted, Problem, Table

__all__ = ["FIELDS", "Draft", "Interpreted", "Problem", "Table"]
