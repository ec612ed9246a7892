"""The order of work over HTTP: for all cards, looked for in the background, taken, explained."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.order import Ordering
from strata.order.narration import called
from strata.order.parting import ROOM
from strata.order.told import told_visits
from strata.order.wording import parted
from strata.phrases import listed
from strata.plan.wishes import FIRST
from studio.asked import asked
from studio.builds import ordering
from studio.builds.finding import my_colouring
from studio.builds.looking import order_key
from studio.builds.models import Colouring
from studio.builds.serializers import StepSerializer, TotalsSerializer
from studio.builds.state import step_json, totals_json
from studio.errors import refusals
from studio.jobs.queue import job_json
from studio.jobs.serializers import JobSerializer

WISHES = ("first", "hands", "heat", "lead", "brush_dry", "rack", "assembly", "twice")


class VisitSerializer(serializers.Serializer[Any]):
    """What is done while one sheet is seated; the same on each of the cards."""

    cards = serializers.ListField(child=serializers.IntegerField())
    first = serializers.IntegerField(help_text="number of its first step among all")
    minutes = serializers.FloatField(help_text="on all of its cards together")
    steps = StepSerializer(many=True)


class BetterSerializer(serializers.Serializer[Any]):
    """An order that was searched for."""

    minutes = serializers.FloatField()
    saves = serializers.FloatField(
        help_text="minutes less than the order at once; negative where wishes cost time"
    )
    taken = serializers.BooleanField()


class PinSerializer(serializers.Serializer[Any]):
    """One pass before another because its maker wants it so."""

    before = serializers.CharField()
    after = serializers.CharField()
    called = serializers.CharField()
    kept = serializers.BooleanField(help_text="false where the craft forbids it as the plan stands")


class ReturnSerializer(serializers.Serializer[Any]):
    """A return to a sheet that its maker keeps apart."""

    passes = serializers.ListField(child=serializers.CharField(), help_text="keys")
    sheet = serializers.IntegerField()
    called = serializers.CharField()


class PartingSerializer(serializers.Serializer[Any]):
    """How a group is kept off its neighbours on a sheet."""

    element = serializers.CharField()
    sheet = serializers.IntegerField()
    way = serializers.ChoiceField(choices=("strips", "cut", "hand"))
    sentence = serializers.CharField()
    chosen = serializers.CharField(allow_null=True, help_text="mask or hand, where its maker chose")
    choosable = serializers.BooleanField(help_text="false where there is no room for a mask")


class OtherWorkSerializer(serializers.Serializer[Any]):
    """Other work for the waits."""

    key = serializers.CharField()
    name = serializers.CharField()
    minutes = serializers.FloatField()


class OrderWishesSerializer(serializers.Serializer[Any]):
    """What is wished of the order."""

    first = serializers.ChoiceField(choices=FIRST)
    hands = serializers.IntegerField()
    heat = serializers.BooleanField()
    lead = serializers.BooleanField()
    brush_dry = serializers.FloatField()
    rack = serializers.IntegerField(help_text="places where cards can dry; 0 for enough")
    assembly = serializers.BooleanField(
        help_text="cutting, folding and putting together are part of the work"
    )
    twice = serializers.ListField(
        child=serializers.IntegerField(), help_text="numbers of the sheets that are there twice"
    )


class OrderSerializer(TotalsSerializer):
    """The order of work for all cards."""

    key = serializers.CharField(help_text="changes with the work")
    cards = serializers.IntegerField()
    proven = serializers.BooleanField(help_text="there is no shorter one")
    words = serializers.CharField(help_text="how short it is, as far as that is known")
    one_by_one = serializers.FloatField(help_text="minutes if the cards were made one after another")
    visits = VisitSerializer(many=True)
    better = BetterSerializer(allow_null=True)
    job = JobSerializer(allow_null=True)
    wishes = OrderWishesSerializer()
    pins = PinSerializer(many=True)
    returns = ReturnSerializer(many=True)
    partings = PartingSerializer(many=True)
    jobs = OtherWorkSerializer(many=True)


class TakeSerializer(serializers.Serializer[Any]):
    """Whether the better order is worked by."""

    taken = serializers.BooleanField()


class ExplainedSerializer(serializers.Serializer[Any]):
    """Why a step stands where it does, and what it would cost earlier."""

    because = serializers.ListField(child=serializers.CharField())
    earlier = serializers.CharField(allow_null=True, help_text="the pass that it could be done before")
    earlier_key = serializers.CharField(allow_null=True, help_text="its key")
    cost = serializers.FloatField(allow_null=True)
    forbids = serializers.CharField(allow_null=True)


def order_json(row: Colouring) -> dict[str, Any]:
    """Everything that the Order screen shows."""
    job = ordering.job_of(row)
    # what a search found is written before it has ended: asked for after its job, it is there
    row.refresh_from_db(fields=["better"])
    key, now = order_key(row), ordering.ordering(row)
    plan, sequence = now.scene.plan, now.sequence
    wishes = plan.order
    searched = now.searched
    mine = job is not None and job.options.get("key") == key
    return {
        "key": key,
        "cards": plan.cards,
        **totals_json(sequence),
        "proven": now.schedule.proven,
        "words": now.said,
        "one_by_one": round(now.one_by_one, 1),
        "visits": [
            {
                "cards": list(v.cards),
                "first": v.first,
                "minutes": round(v.minutes, 1),
                "steps": [step_json(s, 0) for s in v.steps],
            }
            for v in told_visits(sequence)
        ],
        "better": None
        if searched is None
        else {
            "minutes": round(searched.minutes, 1),
            "saves": round(now.plain.minutes - searched.minutes, 1),
            "taken": now.taken,
        },
        "job": job_json(job) if job is not None and mine else None,
        "wishes": {name: getattr(wishes, name) for name in WISHES},
        "pins": _pins(now),
        "returns": _returns(now),
        "partings": _partings(now),
        "jobs": [{"key": j.key, "name": j.name, "minutes": j.minutes} for j in wishes.jobs],
    }


def _pins(now: Ordering) -> list[dict[str, Any]]:
    there = {p.key for p in now.scene.plan.passes}
    kept = {(r.before, r.after) for r in now.work.instance.precedences if r.wished}
    return [
        {
            "before": a,
            "after": b,
            "called": f"{called(now.scene, a)} before {called(now.scene, b)}",
            "kept": (a, b) in kept,
        }
        for a, b in now.scene.plan.order.pins
        if {a, b} <= there
    ]


def _returns(now: Ordering) -> list[dict[str, Any]]:
    there = {p.key for p in now.scene.plan.passes}
    found = []
    for own in now.scene.plan.order.returns:
        if keys := [k for k in own if k in there]:
            said = f"{listed([called(now.scene, k) for k in keys])}: the sheet is seated for that alone"
            found.append({"passes": keys, "sheet": now.scene.plan.find(keys[0]).sheet, "called": said})
    return found


def _partings(now: Ordering) -> list[dict[str, Any]]:
    found = {}
    for key, way in now.work.instance.partings.items():
        task = now.work.instance.by_key[key]
        found[task.group] = {
            "element": task.element,
            "sheet": task.sheet,
            "way": way.way,
            "sentence": parted(way),
            "chosen": now.scene.plan.order.parting(*task.group),
            "choosable": way.room >= ROOM,
        }
    return list(found.values())


class OrderView(APIView):
    """The order of work."""

    @extend_schema(responses={200: OrderSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """For all cards of a colouring, with what is wished of it and the search for a better one."""
        return Response(order_json(my_colouring(request, pk)))


class SearchView(APIView):
    """The search for a better order."""

    @extend_schema(request=None, responses={200: OrderSerializer, **refusals(400, 404)})
    def post(self, request: Request, pk: int) -> Response:
        """Begin it in the background, or follow the one under way."""
        row = my_colouring(request, pk)
        ordering.look_for_better(row)
        return Response(order_json(row))

    @extend_schema(responses={200: OrderSerializer, **refusals(404)})
    def delete(self, request: Request, pk: int) -> Response:
        """Stop it; what was found before stays."""
        row = my_colouring(request, pk)
        ordering.stop_looking(row)
        return Response(order_json(row))


class TakeView(APIView):
    """Which order is worked by."""

    @extend_schema(request=TakeSerializer, responses={200: OrderSerializer, **refusals(400, 404)})
    def put(self, request: Request, pk: int) -> Response:
        """Take the better order, or go back to the one at once."""
        row = ordering.take(my_colouring(request, pk), asked(TakeSerializer, request)["taken"])
        return Response(order_json(row))


class WhyView(APIView):
    """Why a step stands where it does."""

    @extend_schema(responses={200: ExplainedSerializer, **refusals(400, 404)})
    def get(self, request: Request, pk: int, place: int) -> Response:
        """What it waits for, followed back; and what would follow if it were done one pass earlier."""
        found = ordering.explained(my_colouring(request, pk), place)
        return Response(
            {
                "because": list(found.because),
                "earlier": found.earlier,
                "earlier_key": found.earlier_key,
                "cost": None if found.cost is None else round(found.cost, 1),
                "forbids": found.forbids,
            }
        )
