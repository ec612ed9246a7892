"""All addresses: the API, the built files, and the page for everything else."""

from __future__ import annotations

from django.urls import include, path, re_path, register_converter

from studio.asked import RowNumber
from studio.page import nothing, page, service_worker

register_converter(RowNumber, "row")

urlpatterns = [
    path("api/", include("studio.accounts.urls")),
    path("api/", include("studio.inks.urls")),
    path("api/", include("studio.sets.urls")),
    path("api/", include("studio.builds.urls")),
    path("api/", include("studio.bench.urls")),
    path("api/", include("studio.carry.urls")),
    path("api/", include("studio.keep.urls")),
    re_path(r"^api/.*$", nothing),
    path("sw.js", service_worker),
    re_path(r"^(?!static/).*$", page),
]
