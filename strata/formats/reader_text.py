"""Readings as CGATS.17 text, as readers and their programs write them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from strata.errors import BadFile, StrataError, UnknownName
from strata.formats.tables.cgats import read_cgats
from strata.formats.tables.guess import guess
from strata.formats.tables.rows import colour_of
from strata.optics.colour import Lab


@dataclass(frozen=True)
class Reading:
    """One press of the button: its number or name on the device, and the colour."""

    name: str
    lab: Lab


@dataclass(frozen=True)
class Readings:
    """All readings of a file, and what the device says of itself."""

    readings: tuple[Reading, ...]
    header: Mapping[str, str]


def read_readings(data: bytes) -> Readings:
    """Readings in CIELAB, XYZ or spectra (D50 / 2 degrees); raises BadFile where a row holds no colour."""
    table, header = read_cgats(data)
    meaning = guess(table.columns)
    observer = header.get("OBSERVER", "2") + header.get("ILLUMINATION_NAME", "D50").upper()
    if observer not in ("2D50", "2°D50"):
        raise BadFile(
            "These readings are for another light or observer; set the reader to D50 and 2 degrees.", "file"
        )
    found: list[Reading] = []
    for number, row in zip(table.numbers, table.rows, strict=True):
        try:
            lab = colour_of(row, table.columns, meaning)
        except StrataError as error:
            raise BadFile(f"Line {number}: {error.sentence}", "file") from error
        if lab is None:
            raise UnknownName(f"Line {number} of this file holds no colour.", "file")
        at = (
            meaning.index("name") if "name" in meaning else meaning.index("key") if "key" in meaning else None
        )
        found.append(Reading(str(len(found) + 1) if at is None else row[at], lab))
    return Readings(tuple(found), header)


def write_readings(labs: Sequence[Lab], header: Mapping[str, str]) -> bytes:
    """CIELAB rows under a device's header."""
    lines = [
        "CGATS.17",
        *(f'{k} "{v}"' for k, v in header.items()),
        "NUMBER_OF_FIELDS 4",
        "BEGIN_DATA_FORMAT",
    ]
    lines += ["SAMPLE_ID LAB_L LAB_A LAB_B", "END_DATA_FORMAT", f"NUMBER_OF_SETS {len(labs)}", "BEGIN_DATA"]
    lines += [f"{i} {lab[0]:.2f} {lab[1]:.2f} {lab[2]:.2f}" for i, lab in enumerate(labs, 1)]
    return ("\n".join([*lines, "END_DATA", ""])).encode()
