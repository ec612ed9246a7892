"""How large a file may be, in bytes; said before it is sent."""

MOST_DRAWING = 8_000_000
MOST_PHOTOGRAPH = 40_000_000
MOST_FILES = 24
