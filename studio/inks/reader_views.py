"""Readings of a handheld reader, or values typed in, to swatches."""

from __future__ import annotations

import subprocess
import sys
import zlib
from datetime import date
from typing import Any

import numpy as np
from django.conf import settings
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadFile, BadValue, TooLarge, UnknownName
from strata.guard.child import run_guarded
from strata.optics.colour import Lab, checked_lab, lab_of_hex
from strata.optics.inks import HOWS, Swatch
from strata.optics.stack import Coat, predict
from strata.reader.device import WARN_MINUTES
from studio.asked import ONE_FILE, sent_file
from studio.colours import ColourSerializer, colour
from studio.inks.editing import keep_readings
from studio.inks.models import Ink
from studio.inks.serializers import InkSerializer, ink_json, triple
from studio.inks.services import House, house
from studio.inks.shown_on import STOCK, shown_on
from studio.owned import my

MOST_TEXT = 1_000_000


class AskReaderSerializer(serializers.Serializer[Any]):
    """What the stand-in reader is put on: an ink on a card in so many coats."""

    ink = serializers.IntegerField()
    stock = serializers.CharField()
    coats = serializers.FloatField(min_value=0.05, max_value=12)
    times = serializers.IntegerField(min_value=1, max_value=20, default=5)


class ReadingSerializer(serializers.Serializer[Any]):
    """One reading, and how far it lies from the mean."""

    name = serializers.CharField()
    colour = ColourSerializer()
    off = serializers.FloatField()
    left_out = serializers.BooleanField()


class ReadingsSerializer(serializers.Serializer[Any]):
    """Readings averaged; nothing is kept yet."""

    colour = ColourSerializer()
    lab = triple()
    spread = serializers.FloatField()
    readings = ReadingSerializer(many=True)
    remarks = serializers.ListField(child=serializers.CharField())
    device = serializers.CharField()


class NewSwatchSerializer(serializers.Serializer[Any]):
    """A colour of an ink on a card: as CIELAB or a hex code, with how it came to be known."""

    stock = serializers.CharField()
    coats = serializers.FloatField(min_value=0.05, max_value=12)
    lab = serializers.ListField(child=serializers.FloatField(), required=False)
    hex = serializers.CharField(required=False, max_length=9)
    how = serializers.ChoiceField(choices=[h for h in HOWS if h])
    spread = serializers.FloatField(required=False, allow_null=True)
    edit_key = serializers.CharField(max_length=64, required=False, allow_blank=True)


def readings_json(text: bytes) -> dict[str, Any]:
    """CGATS text of a reader, averaged."""
    if len(text) > MOST_TEXT:
        raise TooLarge("That is more text than a reader writes.", "file")
    found = run_guarded("readings", [text])
    remarks = list(found["remarks"])
    minutes = found["header"].get("MINUTES_SINCE_TILE", "")
    if minutes.isascii() and minutes.isdigit() and int(minutes) > WARN_MINUTES:
        ago = f"{int(minutes) // 60} h" if int(minutes) < 24 * 60 else "a day or more"
        remarks.append(f"The reader last saw its white tile {ago} ago: read the tile, then the dab again.")
    lab = tuple(found["lab"])
    return {
        "colour": colour(lab),
        "lab": found["lab"],
        "spread": found["spread"],
        "readings": [
            {"name": name, "colour": colour(tuple(one)), "off": off, "left_out": i in found["left_out"]}
            for i, (name, one, off) in enumerate(
                zip(found["names"], found["labs"], found["off"], strict=True)
            )
        ],
        "remarks": remarks,
        "device": found["header"].get("INSTRUMENTATION", "a colour reader"),
    }


def _process(owner: Any, arguments: list[str]) -> bytes:
    """The stand-in, run as the process of its own that it is."""
    memory = settings.READER_DIR / f"{owner.pk}.json"
    command = [sys.executable, "-m", "strata.reader", "--memory", str(memory), *arguments]
    try:
        done = subprocess.run(command, capture_output=True, timeout=20, check=False, cwd=settings.BASE_DIR)
    except subprocess.TimeoutExpired as error:
        raise BadFile("The reader does not answer. Switch it off and on again.", "reader") from error
    if done.returncode:
        raise BadFile(done.stderr.decode(errors="replace").strip()[:300] or "The reader failed.", "reader")
    return done.stdout


def _true_colour(own: House, key: str, stock: str, coats: float) -> Lab:
    """What the stand-in stands on: no two bottles are quite alike, so a little off what is known."""
    lab = predict(own.stocks[stock], [Coat(own.inks[key], coats)])
    rng = np.random.default_rng(zlib.crc32(f"{key} {stock} {coats}".encode()))
    l_, a, b = np.array(lab) + rng.normal(0, (0.7, 0.8, 0.8))
    return min(max(float(l_), 0.0), 100.0), float(a), float(b)


class ReaderView(APIView):
    """The stand-in reader."""

    @extend_schema(request=AskReaderSerializer, responses=ReadingsSerializer)
    def post(self, request: Request) -> Response:
        """Press its button so many times on a dab of an ink."""
        asked = AskReaderSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        v, own = asked.validated_data, house(request.user)
        ink = my(Ink, request, v["ink"])
        if v["stock"] not in own.stocks:
            raise UnknownName("That card is not in the house.", "stock")
        lab = _true_colour(own, ink.key, v["stock"], v["coats"])
        values = [f"{x:.3f}" for x in lab]
        return Response(
            readings_json(_process(request.user, ["read", "--times", str(v["times"]), "--", *values]))
        )


class ReaderTileView(APIView):
    """The stand-in reader's white tile."""

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request) -> Response:
        """Read the white tile: the drift is gone."""
        _process(request.user, ["tile"])
        return Response(status=204)


class ReadingsView(APIView):
    """Readings from a file."""

    @extend_schema(
        request=ONE_FILE,
        responses=ReadingsSerializer,
    )
    def post(self, request: Request) -> Response:
        """CGATS text that a reader's program wrote; averaged, outliers named."""
        return Response(readings_json(sent_file(request, "file", MOST_TEXT).read()))


class SwatchesView(APIView):
    """The swatches of an ink."""

    @extend_schema(parameters=[STOCK], request=NewSwatchSerializer, responses=InkSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Add a swatch; one on the same card in as many coats is replaced."""
        row, own = my(Ink, request, pk), house(request.user)
        asked = NewSwatchSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        v = asked.validated_data
        if v["stock"] not in own.stocks:
            raise UnknownName("That card is not in the house.", "stock")
        if (v.get("lab") is None) == (v.get("hex") is None):
            raise BadValue("Give the colour as CIELAB or as a hex code.", "lab")
        lab = checked_lab(v["lab"], "lab") if v.get("lab") is not None else lab_of_hex(v["hex"])
        swatch = Swatch(
            own.stocks[v["stock"]].lab,
            v["coats"],
            lab,
            v["how"],
            date.today().isoformat(),
            v.get("spread"),
            v["stock"],
        )
        label, key = f"A swatch of {row.name}", v.get("edit_key", "")
        (row,) = keep_readings(request.user, [(row.key, swatch)], label, edit_key=key)
        return Response(ink_json(row, shown_on(request)))


class SwatchView(APIView):
    """One swatch of an ink."""

    @extend_schema(parameters=[STOCK], responses={200: InkSerializer})
    def delete(self, request: Request, pk: int, index: int) -> Response:
        """Take a swatch away; the last one stays."""
        row = my(Ink, request, pk)
        if not 0 <= index < len(row.swatches):
            raise UnknownName("That swatch is not there any more.", "index")
        if len(row.swatches) == 1:
            raise BadValue("This is the only swatch: without one nothing is known of the ink.", "index")
        (row,) = keep_readings(request.user, [], f"Take a swatch of {row.name} away", [(row.key, index)])
        return Response(ink_json(row, shown_on(request)))
