"""The drawer as a file, in open formats, and as a chart to print."""

from __future__ import annotations

import json
from collections.abc import Callable

from django.http import Http404, HttpResponse
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from strata.formats.drawer import Drawer, write_drawer
from strata.formats.pdf.drawer_chart import drawer_chart_pdf
from strata.formats.pdf.pad_labels import pad_labels_pdf
from strata.formats.tables.cgats import write_cgats
from strata.formats.tables.csv_file import write_csv
from strata.formats.tables.gpl import write_gpl
from strata.optics.inks import Ink
from strata.optics.stack import Stock
from studio.inks.services import House, house
from studio.inks.shown_on import STOCK, shown_on
from studio.schema import files

Writer = Callable[[Request, House, list[Ink], Stock], bytes]


def _json(request: Request, own: House, inks: list[Ink], stock: Stock) -> bytes:
    del stock
    del request
    stocks = tuple(own.cards().values())
    return json.dumps(write_drawer(Drawer(tuple(inks), stocks, own.tools.owned)), indent=1).encode()


def _csv(request: Request, own: House, inks: list[Ink], stock: Stock) -> bytes:
    del stock
    decimal = "," if request.query_params.get("decimal") == "comma" else "."
    return write_csv(inks, own.stocks.values(), decimal)


def _cgats(request: Request, own: House, inks: list[Ink], stock: Stock) -> bytes:
    del request, stock
    return write_cgats(inks, own.stocks.values())


def _gpl(request: Request, own: House, inks: list[Ink], stock: Stock) -> bytes:
    del request, own
    return write_gpl(inks, stock, f"My inks on {stock.name}")


def _chart(request: Request, own: House, inks: list[Ink], stock: Stock) -> bytes:
    del own
    return drawer_chart_pdf(inks, stock, request.query_params.get("paper", "A4"))


def _labels(request: Request, own: House, inks: list[Ink], stock: Stock) -> bytes:
    del own
    return pad_labels_pdf(inks, stock, request.query_params.get("paper", "A4"))


WRITERS: dict[str, tuple[Writer, str, str]] = {
    "drawer.json": (_json, "application/json", "attachment"),
    "drawer.csv": (_csv, "text/csv; charset=utf-8", "attachment"),
    "drawer.txt": (_cgats, "text/plain; charset=utf-8", "attachment"),
    "drawer.gpl": (_gpl, "text/plain; charset=utf-8", "attachment"),
    "chart.pdf": (_chart, "application/pdf", "inline"),
    "labels.pdf": (_labels, "application/pdf", "inline"),
}


class DrawerOutView(APIView):
    """The drawer to take away."""

    @extend_schema(
        parameters=[
            STOCK,
            OpenApiParameter("file", str, OpenApiParameter.PATH, enum=list(WRITERS)),
            OpenApiParameter("decimal", str, enum=["point", "comma"], description="of a CSV"),
            OpenApiParameter("paper", str, enum=["A4", "letter"], description="of the chart and the labels"),
        ],
        responses=files(kind for _, kind, _ in WRITERS.values()),
    )
    def get(self, request: Request, file: str) -> HttpResponse:
        """All pads in the drawer: JSON, CSV, CGATS text, palette, a chart on the card asked for, or labels."""
        if file not in WRITERS:
            raise Http404
        write, kind, how = WRITERS[file]
        own = house(request.user)
        inks = [ink for key, ink in own.inks.items() if key in own.in_drawer]
        answer = HttpResponse(write(request, own, inks, shown_on(request)), content_type=kind)
        answer["Content-Disposition"] = f'{how}; filename="{file}"'
        return answer
