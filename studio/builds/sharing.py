"""A colouring shown to whoever has its link: picture, pads, steps, and nothing else; withdrawn at once."""

from __future__ import annotations

import secrets
from dataclasses import replace
from typing import Any

from django.shortcuts import get_object_or_404
from django.utils import timezone

from strata.errors import TooLarge
from strata.formats.pdf.plan_pages import PlanPages
from strata.making.pull import pull_list
from strata.optics.colour import hex_of
from strata.order.told import told_visits
from studio.builds.looking import outlook
from studio.builds.models import Colouring, Share
from studio.builds.pictures import jpeg, picture
from studio.builds.printing import Sizes, in_minutes, visit_title
from studio.inks.services import house

WIDTH, QUALITY = 640, 88
MOST_LINKS = 12
# open at once, of a colouring


def links(colouring: Colouring) -> list[Share]:
    """The links that are open."""
    return list(colouring.shares.filter(withdrawn=None))


def make_link(colouring: Colouring) -> Share:
    """A new link; nobody can guess it. Raises TooLarge past a dozen."""
    if len(links(colouring)) >= MOST_LINKS:
        raise TooLarge(f"{MOST_LINKS} links are open already; withdraw one first.", "shares")
    return Share.objects.create(colouring=colouring, token=secrets.token_urlsafe(24))


def withdraw(colouring: Colouring, pk: int) -> None:
    """Close a link: what it showed is shown no more."""
    row = get_object_or_404(Share, pk=pk, colouring=colouring, withdrawn=None)
    row.withdrawn = timezone.now()
    row.save(update_fields=["withdrawn"])


def opened(token: str) -> Colouring:
    """What a link shows; 404 for one that is withdrawn, or whose build is put away."""
    row = get_object_or_404(
        Share.objects.select_related("colouring__build__owner"),
        token=token,
        withdrawn=None,
        colouring__gone=None,
        colouring__build__gone=None,
    )
    return row.colouring


def shared_json(colouring: Colouring, inches: bool) -> dict[str, Any]:
    """Picture, pads and steps of one card: no name of the maker, no place in her drawer, no note."""
    seen = outlook(colouring)
    scene, order = seen.scene, seen.sequence
    size = Sizes(inches).of(scene.layer_set.width, scene.layer_set.height)
    number = laid = 0
    visits = []
    for visit in told_visits(order):
        steps = []
        for step in visit.steps:
            number += 1
            laid += step.kind == "ink"
            steps.append(
                {
                    "number": number,
                    "sentence": step.sentence,
                    "caution": step.caution or "",
                    "minutes": in_minutes(step.minutes),
                    "laid": laid,
                }
            )
        visits.append({"title": visit_title(scene, visit, 1), "steps": steps})
    pads = pull_list(scene, order.steps, 1, house(colouring.build.owner).places).pads
    return {
        "name": colouring.build.name,
        "said": f"One card of {scene.stock.name}, panel {size}; {in_minutes(order.minutes)}.",
        "aspect": round(scene.layer_set.height / scene.layer_set.width, 4),
        "passes": laid,
        "pads": [{"name": name, "hex": hex_of(scene.on_stock(key))[0]} for key, name, _ in pads],
        "visits": visits,
    }


def without_places(pages: PlanPages) -> PlanPages:
    """A printed plan without where in the maker's house things lie."""
    fetch = tuple((what, things) for what, things in pages.fetch if what != "And")
    return replace(pages, pads=tuple(replace(p, place="") for p in pages.pads), fetch=fetch)


def shared_picture(colouring: Colouring, after: int | None) -> bytes:
    """The panel after so many passes, JPEG."""
    return jpeg(picture(outlook(colouring), WIDTH, after, False), QUALITY)
