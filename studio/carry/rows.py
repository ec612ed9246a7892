"""Which rows make up an account, and each as JSON values and back: pointers by the archive's own numbers.

Parents come before their children, so that reading can make them in order.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from django.core.exceptions import ValidationError
from django.db import models
from django.utils.dateparse import parse_datetime

from strata.errors import BadFile, finite
from strata.formats.build_file import read_plan
from strata.formats.drawer import read_ink, read_learned, read_stock, read_tool
from strata.formats.set_file import read_set
from strata.making import read_event
from strata.making.events import LATEST
from strata.making.record import plan_of_record
from strata.optics.colour import checked_lab
from strata.optics.inks import one_of
from strata.optics.stack import HANDS, MOST_SHEETS
from strata.swatchcard import CardLayout, Field
from studio.bench.models import Event, Lesson, Making, Photograph, Record, TablePhotograph
from studio.bench.photographs import reading_of, regions_of
from studio.builds.models import Build, Change, Colouring, PlacedSet, PostalRate
from studio.inks.models import Drawer, DrawerChange, Hand, Ink, Stock, SwatchCard, Tool
from studio.sets.models import LayerSet, SetChange, SetPicture

Values = dict[str, Any]


@dataclass(frozen=True)
class Kind:
    """One table of an account.

    ``owner``: the way from a row to its maker; ``files``: binary fields and
    their endings; ``later``: pointers to rows that come after; ``check``: the
    core's own reader of such values.
    """

    name: str
    model: type[models.Model]
    owner: str = "owner"
    files: Mapping[str, str] = field(default_factory=dict)
    later: tuple[str, ...] = ()
    check: Callable[[Values], object] | None = None

    @property
    def fields(self) -> list[Any]:
        """The columns that are carried: all but the row's number, its maker, its job, and what is worked out again."""
        left_out = ("id", "owner", "job", "figures", "summary")
        return [f for f in self.model._meta.concrete_fields if f.name not in left_out]


def _swatch_card(values: Values) -> object:
    for one in values["fields"]:
        Field(tuple((str(k), int(finite(c, "coats", 0, 12))) for k, c in one["passes"]), one["label"])
    return CardLayout(values["code"], len(values["fields"]), values["paper"])


def _hand(values: Values) -> object:
    return one_of(values["hand"], HANDS, "hand"), finite(values["share"], "share", 0.05, 20)


def _record(values: Values) -> object:
    """What the log reads of a record, and what it is made again from."""
    body = values["body"]
    for kind, read in (("inks", read_ink), ("stocks", lambda k, v, f: read_stock(v, f))):
        for key, value in body[kind].items():
            read(key, value, key)
    for told in (*body["steps"], *body["told"], *body["notes"]):
        finite(told["at"], "at", 0, 1e11), int(told["card"]), str(told["sentence"])
    for laid in body["used"]:
        checked_lab(laid["colour"], "colour")
        _ = [laid[name] for name in ("element", "sheet", "ink", "name", "coats", "hand")]
    for key, count in values.get("taken", {}).items():
        str(key), finite(count, "taken", 0, MOST_SHEETS)
    finite(body["ended"] - body["began"], "ended", -1e11, 1e11), int(body["cards"]), int(body["spoilt"])
    if not values["picture"]:
        raise BadFile("This archive holds a made card without its picture.", "records")
    return plan_of_record(body)


def _photograph(values: Values) -> object:
    found = values["reading"]
    if found is None:
        return None
    for told in found["told"]:
        checked_lab(told["predicted"], "told"), checked_lab(told["found"], "told")
        _ = [told[n] for n in ("element", "difference", "margin", "words", "guess", "share")]
    return regions_of(found), reading_of(found)


def _lesson(values: Values) -> object:
    body = values["body"]
    if body is None:
        return None
    _ = [body[n] for n in ("cards", "before", "after", "hands", "pads", "builds", "passed_over")]
    return [read_learned(v, k) for k, v in body["inks"].items()]


def _plan(values: Values) -> object:
    plan = values["plan"]
    return read_plan({**plan, "materials": {"stock": "any", **plan.get("materials", {})}})


KINDS: tuple[Kind, ...] = (
    Kind("drawer", Drawer),
    Kind("inks", Ink, check=lambda v: read_ink(v["key"], {**v, "cleaning": v["cleaning"] or None}, v["key"])),
    Kind("stocks", Stock, check=lambda v: read_stock(v, v["key"])),
    Kind("tools", Tool, check=lambda v: read_tool(v, "tool")),
    Kind("hands", Hand, check=_hand),
    Kind("drawer-changes", DrawerChange),
    Kind("swatch-cards", SwatchCard, check=_swatch_card),
    Kind("sets", LayerSet, later=("head",), check=lambda v: read_set(v["geometry"])),
    Kind("set-changes", SetChange, "layer_set__owner"),
    Kind("set-pictures", SetPicture, "layer_set__owner", {"data": "jpg"}),
    Kind("builds", Build),
    Kind("placed-sets", PlacedSet, "build__owner"),
    Kind("colourings", Colouring, "build__owner"),
    Kind("changes", Change, "colouring__build__owner", check=_plan),
    Kind("postal-rates", PostalRate),
    Kind("makings", Making, "colouring__build__owner"),
    Kind("events", Event, "making__colouring__build__owner", check=read_event),
    Kind(
        "table-photographs",
        TablePhotograph,
        "making__colouring__build__owner",
        {"content": "jpg"},
        check=lambda v: (finite(v["at"], "at", 0, LATEST), int(v["card"]), str(v["after"])),
    ),
    Kind("records", Record, files={"picture": "jpg"}, check=_record),
    Kind(
        "photographs",
        Photograph,
        "record__owner",
        {"content": "jpg", "straight": "jpg"},
        check=_photograph,
    ),
    Kind("lessons", Lesson, check=_lesson),
)
BY_MODEL = {kind.model: kind.name for kind in KINDS}


def rows_of(kind: Kind, owner: Any) -> models.QuerySet[Any]:
    """A maker's rows of a kind, parents of their own kind first."""
    found: models.QuerySet[Any] = kind.model._default_manager.filter(**{kind.owner: owner}).order_by("pk")
    return found


def values_of(kind: Kind, row: Any) -> tuple[Values, dict[str, bytes]]:
    """A row as JSON values with its own number, and its files by name."""
    values: Values = {"id": row.pk}
    files: dict[str, bytes] = {}
    for column in kind.fields:
        value = getattr(row, column.attname)
        if column.name in kind.files:
            data = None if value is None else bytes(value)
            name = f"files/{kind.name}/{row.pk}-{column.name}.{kind.files[column.name]}"
            values[column.name] = name if data else (None if data is None else "")
            if data:
                files[name] = data
        else:
            values[column.name] = value.isoformat() if isinstance(value, datetime) else value
    return values, files


def row_from(kind: Kind, values: Values, owner: Any, file: Callable[[str], bytes]) -> Any:
    """A row that is not kept yet and points nowhere; raises BadFile where it makes no sense."""
    row: Any = kind.model()
    if kind.owner == "owner":
        row.owner = owner
    pointers = [c.name for c in kind.fields if c.is_relation]
    for column in kind.fields:
        if column.name not in values or column.is_relation:
            continue  # a column that a later version knows
        value = values[column.name]
        if column.name in kind.files:
            setattr(row, column.attname, file(value) if value else (None if value is None else b""))
        elif isinstance(column, models.DateTimeField) and value is not None:
            setattr(row, column.attname, moment(value))
        else:
            setattr(row, column.attname, value)
    try:
        # nothing at all is for the core to judge: a list may well be empty
        empty = [c.name for c in kind.fields if getattr(row, c.attname) in ("", [], {})]
        row.clean_fields(exclude=[*pointers, *kind.files, *empty, "id", "owner", "job"])
        if kind.check is not None:
            kind.check(values)
    except (ValidationError, KeyError, TypeError, AttributeError) as error:
        raise BadFile(f"This archive holds {kind.name} that make no sense.", kind.name) from error
    return row


def point(kind: Kind, row: Any, values: Values, known: Mapping[str, Mapping[int, int]], later: bool) -> None:
    """Set a row's pointers to the rows made before it, or (``later``) those to rows that came after. Raises BadFile."""
    for column in kind.fields:
        if column.is_relation and (column.name in kind.later) == later:
            setattr(row, column.attname, _pointed(column, values.get(column.name), known))


def _pointed(column: Any, value: Any, known: Mapping[str, Mapping[int, int]]) -> int | None:
    """The number here of what an archive points at; raises BadFile where it has to be there and is not."""
    if value is None:
        if column.null:
            return None
        raise BadFile("This archive points at something that it does not hold.", column.name)
    own = known.get(BY_MODEL.get(column.related_model, ""), {})
    if value not in own:
        if column.null:
            return None  # what it pointed at was not carried: a set of another's, a job
        raise BadFile("This archive points at something that it does not hold.", column.name)
    return own[value]


def moment(value: Any) -> datetime:
    """A time with its zone; raises BadFile."""
    found = parse_datetime(value) if isinstance(value, str) else None
    if found is None or found.tzinfo is None:
        raise BadFile("This archive holds a time that cannot be read.")
    return found
