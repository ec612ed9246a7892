"""Minutes of the table that are the same for everyone, and the cautions of what takes them."""

from __future__ import annotations

from collections.abc import Mapping

PLACE: Mapping[str, float] = {"jig": 10 / 60, "marks": 25 / 60, "eye": 45 / 60}
# seating a sheet and checking it, by the way it registers
LIFT = 0.2
LOAD = 0.3
# picking the pad, loading the brush, dabbing on scrap
WIPE, CLEAN = 0.3, 1.5
WASH, WASH_DRY = 1.5, 4.0
# washing a sheet and letting it get bone dry
DAMP, DAMP_DRY = 0.5, 0.5
# going over a sheet with a damp wipe, then with a dry cloth
MASK, UNMASK = 1.0, 0.25
SEAL, SEAL_DRY = 1.0, 5.0
PRINT, GLUE = 0.35, 0.5
# inking a stamp from its pad and printing it once; gluing a piece where it belongs
DRY_ENOUGH = 0.02
# minutes that are not worth waiting for

HEAT_CAUTION = (
    "A heat tool shortens this. It burns: lay it on its stand, away from alcohol, sprays and scraps of paper."
)
SEAL_CAUTION = (
    "Fixative sprays are flammable: air the room or go outdoors, keep the heat tool away, follow the label."
)
WASH_CAUTION = "If you clean with alcohol: it is flammable, air the room, keep the heat tool away."


def as_facts() -> dict[str, float]:
    """The minutes as a plan's facts name them (without placing, which depends on the register)."""
    return {
        "lift": LIFT,
        "load": LOAD,
        "wipe": WIPE,
        "clean": CLEAN,
        "wash": WASH,
        "wash_dry": WASH_DRY,
        "damp": DAMP,
        "damp_dry": DAMP_DRY,
        "mask": MASK,
        "unmask": UNMASK,
        "seal": SEAL,
        "seal_dry": SEAL_DRY,
        "print": PRINT,
        "glue": GLUE,
    }
