"""Text as files have it: encodings, decimal commas, and cells that a spreadsheet would run."""

from __future__ import annotations

import re

from strata.errors import BadFile, BadValue

_WESTERN = [
    "cp1252",
    "mac_roman",
    "cp1250",
    "cp1251",
    "cp1253",
    "cp1254",
    "shift_jis",
    "gb18030",
    "big5",
    "euc_kr",
]
_WESTERN_SIGNS = frozenset(
    "àâäáãåæçéèêëíìîïñóòôöõøœúùûüýÿßÀÂÄÁÃÅÆÇÉÈÊËÍÌÎÏÑÓÒÔÖÕØŒÚÙÛÜÝ“”„‘’‚–—…·°®™©«»•½¼¾×¿¡€ªº§\u00a0"
)
# what Western European text has outside ASCII
_FORMULA = re.compile(r"^'*[=+\-@\t\r]")
_MARKED = re.compile(r"^'+[=+\-@\t\r]")
_NUMBER = re.compile(r"[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d+)?")


def decoded(data: bytes, encoding: str | None = None) -> tuple[str, str]:
    """(text, name of the encoding) of a text file; a byte order mark, then UTF-8, then the likeliest.

    Raises BadFile for what is no text, BadValue for an encoding nobody knows.
    """
    if encoding:
        try:
            return data.decode(encoding), encoding
        except LookupError as error:
            raise BadValue(f"“{encoding}” is not an encoding that is known.", "encoding") from error
        except UnicodeDecodeError as error:
            raise BadFile(f"This file is not text in {encoding}.", "encoding") from error
    for mark, name in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            try:
                return data.decode(name), name
            except UnicodeDecodeError as error:
                raise BadFile("This text file is damaged.", "file") from error
    if b"\x00" in data:
        raise BadFile("This is not a text file.", "file")
    try:
        return data.decode("utf-8"), "utf-8"
    except UnicodeDecodeError:
        return _guessed(data)


def _guessed(data: bytes) -> tuple[str, str]:
    from charset_normalizer import from_bytes

    control = sum(b < 32 and b not in (9, 10, 12, 13) for b in data)
    best = from_bytes(data, cp_isolation=_WESTERN).best() if control <= len(data) // 100 else None
    if best is None:
        raise BadFile("This is not a text file.", "file")
    # short texts fit many code pages alike: where the commonest makes sensible words of it, it is taken
    try:
        western = data.decode("cp1252")
    except UnicodeDecodeError:
        return str(best), best.encoding
    if all(ord(c) < 128 or c in _WESTERN_SIGNS for c in western):
        return western, "cp1252"
    return str(best), best.encoding


def guarded_cell(text: str) -> str:
    """A cell that no spreadsheet takes for a formula (OWASP, "CSV injection"): marked with an apostrophe."""
    return f"'{text}" if _FORMULA.match(text) else text


def plain_cell(text: str) -> str:
    """The cell without the mark that ``guarded_cell`` put on it."""
    return text[1:] if _MARKED.match(text) else text


def number(text: str, what: str) -> float:
    """A number as people write it: a decimal comma or point, a true minus. Raises BadValue."""
    plain = re.sub(r"[\s\u00a0\u202f']", "", text).replace("−", "-").removesuffix("%")
    if "," in plain and "." in plain:
        # the later of the two is the decimal sign, the other parts thousands
        drop = "," if plain.rfind(".") > plain.rfind(",") else "."
        plain = plain.replace(drop, "")
    plain = plain.replace(",", ".")
    if not _NUMBER.fullmatch(plain):
        raise BadValue(f"“{text.strip()[:40]}” is not a number for {what}.", what)
    return float(plain)
