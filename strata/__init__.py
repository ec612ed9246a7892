"""The core of Anastrata: colour, sheets, passes, advice and order; no interface code."""
