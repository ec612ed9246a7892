"""The core of Anastrata: colour, sheets, passes, advice and order; no interface code."""

__version__ = "0.1.0"
