"""A photograph of a finished panel, held against what was predicted; and what the differences say of pads and hands."""
