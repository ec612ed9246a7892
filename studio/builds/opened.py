"""An ink opened: its dabs on every card, its ladder, where it is used, and what can do its work."""

from __future__ import annotations

import json
from typing import Any

from django.db.models import F, TextField
from django.db.models.functions import Cast
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.drawer import Likeness, alike
from strata.drawer.likeness import Floats, tried
from strata.kept import Kept
from strata.optics.dabs import COATS, dabs
from strata.optics.inks import Ink as CoreInk
from strata.optics.learned import AS_MEASURED
from strata.optics.stack import Stock as CoreStock
from strata.optics.swatches import lies_on
from strata.recipes.judged import in_words
from studio.builds.models import Change
from studio.colours import ColourSerializer, colour
from studio.errors import refusals
from studio.inks.models import Ink
from studio.inks.serializers import InkSerializer, ink_json
from studio.inks.services import House, house
from studio.inks.shown_on import STOCK, shown_on
from studio.owned import mine, my

_TRIED: Kept[tuple[str, ...], Floats] = Kept(40_000_000, lambda found: int(found.nbytes))


class OnCardSerializer(serializers.Serializer[Any]):
    """One, two and three coats on a card, and which of them were measured there."""

    stock = serializers.CharField()
    name = serializers.CharField()
    card = serializers.CharField()
    dabs = ColourSerializer(many=True)
    measured = serializers.ListField(child=serializers.BooleanField())


class LikenessSerializer(serializers.Serializer[Any]):
    """Another pad that does the work of this one, or the other way round."""

    ink = serializers.CharField()
    name = serializers.CharField()
    coats = serializers.FloatField()
    de00 = serializers.FloatField()
    worst = serializers.FloatField()
    words = serializers.CharField()
    hex = serializers.CharField()


class UsedSerializer(serializers.Serializer[Any]):
    """A build that uses the ink."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    elements = serializers.ListField(child=serializers.CharField())


class OpenedSerializer(serializers.Serializer[Any]):
    """An ink opened."""

    ink = InkSerializer()
    cards = OnCardSerializer(many=True)
    family = InkSerializer(many=True)
    used = UsedSerializer(many=True)
    stands_in = LikenessSerializer(many=True, help_text="pads that can stand in for it")
    stands_for = LikenessSerializer(many=True, help_text="pads that it can stand in for")


def _on_cards(ink: CoreInk, own: House) -> list[dict[str, Any]]:
    found = []
    for key, stock in own.cards().items():
        # what was learned lies over the readings: what is shown is no reading then
        near = [s.coats for s in ink.swatches if lies_on(s, stock)] if ink.learned == AS_MEASURED else []
        labs = dabs([ink], stock)[0]
        found.append(
            {
                "stock": key,
                "name": stock.name,
                "card": colour(stock.lab)["hex"],
                "dabs": [colour((float(v[0]), float(v[1]), float(v[2]))) for v in labs],
                "measured": [any(abs(c - n) < 0.01 for c in near) for n in COATS],
            }
        )
    return found


def _likeness(found: tuple[Likeness, ...], own: House, stock: CoreStock) -> list[dict[str, Any]]:
    return [
        {
            "ink": f.ink,
            "name": own.inks[f.ink].name,
            "coats": f.coats,
            "de00": round(f.mean, 1),
            "worst": round(f.worst, 1),
            "words": in_words(f.mean),
            "hex": colour(tuple(float(v) for v in dabs([own.inks[f.ink]], stock)[0, 0]))["hex"],  # type: ignore[arg-type]
        }
        for f in found
    ]


def used_by(owner: Any, key: str) -> list[dict[str, Any]]:
    """The builds in which an ink is used, as their colourings stand, latest first."""
    heads = Change.objects.filter(
        number=F("colouring__head"),
        colouring__gone=None,
        colouring__build__owner=owner,
        colouring__build__gone=None,
    ).select_related("colouring__build")
    found: dict[int, dict[str, Any]] = {}
    # most builds do not use it: those whose plan does not hold its key are not read
    heads = heads.annotate(text=Cast("plan", TextField())).filter(text__contains=json.dumps(key))
    for change in heads.order_by("-colouring__build__updated", "colouring"):
        build = change.colouring.build
        elements = [p["on"]["element"] for p in change.plan["passes"] if p["ink"] == key]
        if elements:
            known = found.setdefault(build.pk, {"id": build.pk, "name": build.name, "elements": []})
            known["elements"] = list(dict.fromkeys([*known["elements"], *elements]))
    return list(found.values())


class OpenedView(APIView):
    """Everything about one ink."""

    @extend_schema(parameters=[STOCK], responses={200: OpenedSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """Its dabs on every card in the house, its family, its builds, its stand-ins."""
        row, stock, own = my(Ink, request, pk), shown_on(request), house(request.user)
        ink = own.inks[row.key]
        kin = [
            other
            for other in mine(Ink, request.user)
            if row.family and (other.line, other.family) == (row.line, row.family)
        ] or [row]
        pads, cards = own.pads(), list(own.cards().values()) or [stock]
        # worked out once for a drawer as it is, whichever pad is opened
        known = _TRIED.get((own.stamp, *(s.key for s in cards)), lambda: tried(pads, cards))
        for_it, by_it = alike(ink, pads, cards, known=known)
        answer = {
            "ink": ink_json(row, stock, ink),
            "cards": _on_cards(ink, own),
            "family": sorted(
                (ink_json(k, stock, own.inks[k.key]) for k in kin),
                key=lambda k: (k["depth"], -k["lightness"]),
            ),
            "used": used_by(request.user, row.key),
            "stands_in": _likeness(for_it, own, stock),
            "stands_for": _likeness(by_it, own, stock),
        }
        return Response(answer)
