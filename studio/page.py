"""The one page: every address that is not data returns it, and the browser finds the view."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.utils.decorators import method_decorator
from django.views import View
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

_NOT_BUILT = (
    "<!doctype html><title>Anastrata</title><p>The pages are not built yet: run <code>make build</code>."
)


@method_decorator([never_cache, ensure_csrf_cookie], name="dispatch")
class Page(View):
    """index.html, with a fresh CSRF cookie; what its address will ask for is named in it, to be fetched meanwhile."""

    def get(self, request: HttpRequest) -> HttpResponse:
        index = settings.PAGES / "index.html"
        if not index.exists():
            return HttpResponse(_NOT_BUILT)
        # who is not signed in is refused what she asks for, and a refusal that was fetched ahead would be read after it
        named = "".join(_ahead(request.path)) if request.user.is_authenticated else ""
        return HttpResponse(index.read_text().replace("</head>", f"{named}</head>", 1))


def _ahead(path: str) -> Iterator[str]:
    """Links to what an address needs (made by the build: web/firstPage.ts), and to who is here."""
    known = settings.PAGES / "ahead.json"
    asks, scripts = ["/api/session"], list[str]()
    for place in json.loads(known.read_text()) if known.exists() else ():
        if found := re.match(place["address"], path, re.ASCII):
            scripts += place["scripts"]
            # only digits of the path come into it
            asks += [address.replace("$1", found[found.lastindex or 0]) for address in place["asks"]]
    for script in dict.fromkeys(scripts):
        yield f'<link rel="modulepreload" crossorigin href="{settings.STATIC_URL}{script}">'
    for asked in asks:
        yield f'<link rel="preload" as="fetch" crossorigin href="{asked}">'


@method_decorator(never_cache, name="dispatch")
class ServiceWorker(View):
    """The built service worker, from the root: it looks after every address, not only the built files."""

    def get(self, request: HttpRequest) -> HttpResponse:
        worker = settings.PAGES / "sw.js"
        if not worker.exists():
            return HttpResponse(status=404)
        return HttpResponse(worker.read_text(), content_type="text/javascript")


def nothing(request: HttpRequest) -> JsonResponse:
    """An address under api/ that does not exist."""
    return JsonResponse(
        {"code": "not_found", "sentence": "There is nothing at this address.", "field": None}, status=404
    )


page = Page.as_view()
service_worker = ServiceWorker.as_view()
