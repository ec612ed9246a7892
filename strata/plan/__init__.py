"""A colouring as a list of passes, bottom first, and the edits a maker can make to it."""

from strata.plan import (  # their edits are known once they are imported
    edit_family,
    edit_finish,
    edit_many,
    edit_media,
    edit_order,
    edit_pads,
    edit_things,
)
from strata.plan.model import Form, Materials, Pass, Plan
from strata.plan.scene import Scene

__all__ = [
    "Form",
    "Materials",
    "Pass",
    "Plan",
    "Scene",
    "edit_family",
    "edit_finish",
    "edit_many",
    "edit_media",
    "edit_order",
    "edit_pads",
    "edit_things",
]
