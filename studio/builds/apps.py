"""Start-up of the builds app."""

from __future__ import annotations

import os
import threading

from django.apps import AppConfig


def _warm() -> None:
    # the first colour difference and the first distance map would cost half a second each
    from strata.optics.colour import difference

    difference((50.0, 0.0, 0.0), (51.0, 0.0, 0.0))
    import scipy.ndimage  # noqa: F401
    from django.urls import get_resolver

    from studio.jobs.queue import take_up
    from studio.sets.imports import sweep

    sweep()
    # what a job of any kind is done by is known once all addresses are: before that, none can be taken up
    _ = get_resolver().url_patterns
    take_up()


class BuildsConfig(AppConfig):
    """Loads slow libraries in the background of a serving process."""

    name = "studio.builds"

    def ready(self) -> None:
        if "gunicorn" in os.environ.get("SERVER_SOFTWARE", ""):
            threading.Thread(target=_warm, daemon=True).start()
