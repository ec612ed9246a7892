"""The card that colours are shown on, from a request."""

from __future__ import annotations

from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request

from strata.errors import UnknownName
from strata.optics.stack import Stock
from studio.inks.services import house

PLAIN = Stock((95.8, 0.2, 0.9), "plain white")
STOCK = OpenApiParameter("stock", str, description="key of the stock the dabs are shown on")


def shown_on(request: Request) -> Stock:
    """The stock asked for, else the first in the house, else a plain white; raises UnknownName."""
    own = house(request.user)
    stocks, key = own.stocks, request.query_params.get("stock")
    if key is None:
        return next(iter(own.cards().values()), PLAIN)
    if key not in stocks:
        raise UnknownName("That card is not in the house.", "stock")
    return stocks[key]
