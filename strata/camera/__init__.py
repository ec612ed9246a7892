"""A simulated camera: photographs of sheets for the demo, the tests and whoever has no stencil at hand."""

from strata.camera.photograph import jpeg, photograph
from strata.camera.shot import Shot

__all__ = ["Shot", "jpeg", "photograph"]
