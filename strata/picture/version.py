"""Which pictures are the same: part of every picture's key."""

PICTURES = 6
# raise it whenever the same plan gives another picture or another order than before: kept pictures of an
# earlier version are then not shown again
