"""Zip files that somebody sent: what can be wrong with one, in one place."""

from __future__ import annotations

import zipfile
import zlib

DAMAGED: tuple[type[Exception], ...] = (
    zipfile.BadZipFile,
    zlib.error,
    ValueError,
    OSError,
    EOFError,
    RuntimeError,
)
# what ``zipfile`` raises of a file that is none, is cut off, is locked, or is packed in a way that it does not know
