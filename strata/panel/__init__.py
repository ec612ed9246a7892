"""The panel and what lies on it: things with a place, the shapes they are cut to, and all of it as one laid set."""

from strata.panel.laid import FREE, GROUND, Laid
from strata.panel.laying import laid_of
from strata.panel.size import PanelSize
from strata.panel.things import IMAGE, Card, Note, Place, Thing, Wear, Words, the_image

__all__ = [
    "FREE",
    "GROUND",
    "IMAGE",
    "Card",
    "Laid",
    "Note",
    "PanelSize",
    "Place",
    "Thing",
    "Wear",
    "Words",
    "laid_of",
    "the_image",
]
