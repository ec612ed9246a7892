"""A colouring as a list of passes, bottom first, and the edits a maker can make to it."""

from strata.plan.model import Form, Pass, Plan
from strata.plan.scene import Scene

__all__ = ["Form", "Pass", "Plan", "Scene"]
