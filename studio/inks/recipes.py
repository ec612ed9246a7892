"""Recipes from a maker's own drawer; the shelf of a card is kept between two questions."""

from __future__ import annotations

from typing import Any

import numpy as np
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadValue, UnknownName
from strata.kept import Kept
from strata.optics.colour import Lab, checked_lab, lab_of_hex
from strata.optics.inks import CHEMISTRIES
from strata.recipes import Recipe, Shelf
from strata.recipes.judged import effort, in_words
from studio.colours import ColourSerializer, colour
from studio.inks.services import House, house

MOST_LAIDS = 720
# passes on a shelf: more would take over 100 MB
_SHELVES: Kept[object, Shelf] = Kept(400_000_000, lambda shelf: 180 * len(shelf.laids) ** 2 + 1_000_000)
# every pass over every pass: 36 bands and a colour, four bytes each, and what is searched by


class WantedSerializer(serializers.Serializer[Any]):
    """A wanted colour, as CIELAB or as a hex code, and what may be used for it."""

    stock = serializers.CharField()
    lab = serializers.ListField(child=serializers.FloatField(), required=False)
    hex = serializers.RegexField(r"^#[0-9a-fA-F]{6}$", required=False)
    max_pads = serializers.IntegerField(min_value=1, max_value=3, default=3)
    max_coats = serializers.IntegerField(min_value=1, max_value=3, default=3)
    chemistry = serializers.ChoiceField(choices=sorted(CHEMISTRIES), required=False, allow_null=True)
    line = serializers.CharField(required=False, allow_blank=True)
    without = serializers.ListField(child=serializers.CharField(), default=list)
    keep = serializers.IntegerField(min_value=1, max_value=30, default=9)


class RecipePassSerializer(serializers.Serializer[Any]):
    """One pass and the colour of the card after it."""

    ink = serializers.CharField()
    name = serializers.CharField()
    coats = serializers.IntegerField()
    after = ColourSerializer()


class RecipeSerializer(serializers.Serializer[Any]):
    """A recipe, bottom first."""

    passes = RecipePassSerializer(many=True)
    colour = ColourSerializer()
    de00 = serializers.FloatField()
    words = serializers.CharField()
    pads = serializers.IntegerField()
    coats = serializers.IntegerField()
    wait_minutes = serializers.FloatField()
    cautions = serializers.ListField(child=serializers.CharField())


class RecipesSerializer(serializers.Serializer[Any]):
    """The nearest recipes, nearest first."""

    wanted = ColourSerializer()
    recipes = RecipeSerializer(many=True)
    inks = serializers.IntegerField()
    coats = serializers.IntegerField(help_text="coats a pass was searched up to")


def _target(values: dict[str, Any]) -> Lab:
    if values.get("lab") is not None:
        return checked_lab(values["lab"], "lab")
    if values.get("hex"):
        return lab_of_hex(values["hex"])
    raise BadValue("Say which colour is wanted.", "lab")


def _shelf(own: House, values: dict[str, Any]) -> Shelf:
    if values["stock"] not in own.stocks:
        raise UnknownName("That card is not in the house.", "stock")
    keys = [
        k
        for k, ink in sorted(own.inks.items())
        if k in own.at_hand
        and k not in values["without"]
        and values.get("chemistry") in (None, ink.chemistry.key)
        and (not values.get("line") or ink.line == values["line"])
    ]
    if not keys:
        raise BadValue("No pad is left to make it of.", "inks")
    if len(keys) > MOST_LAIDS:
        raise BadValue(
            f"{len(keys)} pads are more than can be asked at once; choose a line or a kind of ink.", "inks"
        )
    coats = max(1, min(values["max_coats"], MOST_LAIDS // len(keys)))
    key = (own.stamp, values["stock"], tuple(keys), coats)
    return _SHELVES.get(key, lambda: Shelf(own.stocks[values["stock"]], [own.inks[k] for k in keys], coats))


def recipe_json(found: Recipe, own: House, shelf: Shelf) -> dict[str, Any]:
    """A recipe for the screen."""
    asks = effort(found, shelf.stock, own.inks)
    return {
        "passes": [
            {"ink": ink, "name": own.inks[ink].name, "coats": coats, "after": colour(after)}
            for (ink, coats), after in zip(found.passes, asks.under, strict=True)
        ],
        "colour": colour(found.lab),
        "de00": round(found.difference, 2),
        "words": in_words(found.difference),
        "pads": asks.pads,
        "coats": asks.coats,
        "wait_minutes": round(asks.wait, 1),
        "cautions": list(asks.cautions),
    }


def _different(found: list[Recipe]) -> list[Recipe]:
    """Without a pad used twice, and without the same passes in another order: dyes do not mind which comes first."""
    seen: set[frozenset[tuple[str, int]]] = set()
    kept = []
    for item in found:
        passes = frozenset(item.passes)
        if len({k for k, _ in item.passes}) == len(item.passes) and passes not in seen:
            seen.add(passes)
            kept.append(item)
    return kept


def recipes_json(owner: Any, values: dict[str, Any]) -> dict[str, Any]:
    """The best of one, two and three pads: for each number of pads its nearest ones, nearest first."""
    own = house(owner)
    target, shelf = _target(values), _shelf(own, values)
    found: list[Recipe] = []
    each = max(1, values["keep"] // values["max_pads"])
    for pads in range(1, values["max_pads"] + 1):
        found += _different(shelf.of(np.array(target), pads, 8 * values["keep"]))[:each]
    found.sort(key=lambda r: r.difference)
    return {
        "wanted": colour(target),
        "recipes": [recipe_json(r, own, shelf) for r in found],
        "inks": len(shelf.inks),
        "coats": shelf.most_coats,
    }


class RecipesView(APIView):
    """Recipes."""

    @extend_schema(request=WantedSerializer, responses=RecipesSerializer)
    def post(self, request: Request) -> Response:
        """What makes this colour on this card from the pads at hand?"""
        wanted = WantedSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        return Response(recipes_json(request.user, wanted.validated_data))
