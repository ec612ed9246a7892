"""What else than laying ink a pass can be, and what it does."""

from __future__ import annotations

from dataclasses import dataclass, replace

from strata.optics.inks import CHEMISTRIES, Ink, Swatch

WATER, GLOSS, SEALER = "~water", "~gloss", "~sealer"
# built-in bottles: in every house, and in no drawer
LIFTS = {"light": 0.2, "medium": 0.4, "heavy": 0.6}
# share of the dye that a damp wipe takes away, by hand
DAMP_MINUTES = 10.0
# that a panel stays wet after a lift


@dataclass(frozen=True)
class Medium:
    """One way of working: its label, what it is done with when no ink is named, its tool, what to be told at the step.

    ``touch``: drawn along the shapes, not laid all over them. ``after``: why
    it comes after all that lies below it; ``last``: after everything else.
    """

    key: str
    label: str
    bottle: str | None
    tool: str | None
    how: str
    caution: str = ""
    touch: bool = False
    after: str = ""
    last: bool = False


MEDIA: dict[str, Medium] = {
    m.key: m
    for m in (
        Medium("ink", "ink", None, None, ""),
        Medium(
            "lift",
            "lift with a damp wipe",
            WATER,
            "wipe",
            "Wring the wipe out well and stroke along the slits, never across.",
            "It cannot be undone. Too wet, and water creeps under the sheet: try on scrap.",
            after="Only what lies there can be lifted.",
        ),
        Medium(
            "spatter",
            "spatter",
            None,
            "pen",
            "Cover what must stay clean, flick from a loaded brush, blot.",
        ),
        Medium(
            "shadow",
            "marker shadow",
            None,
            "pen",
            "One line along the same side of every shape, a little deeper than the card.",
            touch=True,
            last=True,
        ),
        Medium(
            "lights",
            "pen lights",
            None,
            "pen",
            "Last of all, on dry ink: short strokes on the side away from the shadow.",
            touch=True,
            after="Lights go on last, on dry ink.",
            last=True,
        ),
        Medium("dry brush", "dry brush", None, None, "Hardly any paint on the brush; touch the middle only."),
        Medium(
            "gloss",
            "clear gloss",
            GLOSS,
            "stamp",
            "Everything below bone dry and dusted; test first; pour, shake off, melt.",
            "Do not breathe the powder. A heat tool burns: keep it from alcohol, sprays and paper scraps.",
            after="Powder sticks to anything damp: all below must be bone dry.",
            last=True,
        ),
        Medium(
            "seal",
            "seal",
            SEALER,
            "pen",
            "Two thin mists from an arm's length.",
            "Fixative sprays are flammable: air the room or go outdoors, keep the heat tool away, follow the label.",
            after="What is sealed takes no more ink.",
            last=True,
        ),
    )
}


def _bottle(key: str, name: str, dry: float) -> Ink:
    clear = Swatch((95.0, 0.0, 0.0), 1, (95.0, 0.0, 0.0))
    kind = replace(
        CHEMISTRIES["dye"], key=key.strip("~"), label=name, dry_minutes=dry, heated_minutes=None, dry_back=1.0
    )
    return Ink(key, kind, (clear,), name)


BOTTLES: dict[str, Ink] = {
    WATER: _bottle(WATER, "water", DAMP_MINUTES),
    GLOSS: _bottle(GLOSS, "clear gloss", 2.0),
    SEALER: _bottle(SEALER, "fixative", 5.0),
}
