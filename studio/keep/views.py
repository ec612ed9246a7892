"""The house over HTTP: how it is, who may come in; and an account that is given up."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import get_user_model, logout
from django.db import connection
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadValue
from studio.accounts import invitations
from studio.accounts.mine_views import certain
from studio.accounts.models import House
from studio.accounts.owner import OwnerOnly, real_makers, runs_the_house
from studio.accounts.throttles import SigningIn
from studio.asked import asked, maker
from studio.errors import refusals
from studio.keep import backups
from studio.keep.house import code_side, house_json
from studio.keep.leaving import leave_for_good

LAST = "You run this house: make somebody else its owner first, or take the whole of it down."


class MakerSerializer(serializers.Serializer[Any]):
    """Somebody with an account."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    kept_mb = serializers.FloatField(help_text="pictures and files")
    seen = serializers.DateTimeField(allow_null=True)


class LastBackupSerializer(serializers.Serializer[Any]):
    """The newest backup."""

    made = serializers.DateTimeField()
    old = serializers.BooleanField()


class AddressSerializer(serializers.Serializer[Any]):
    """Where a tablet in the same network finds it, as text and as SVG path data of a QR code."""

    address = serializers.CharField()
    code = serializers.CharField()
    side = serializers.IntegerField(help_text="units that the code is wide")


class OutInvitationSerializer(serializers.Serializer[Any]):
    """An invitation that was not used yet."""

    id = serializers.IntegerField()
    said = serializers.CharField(allow_blank=True)
    reset = serializers.CharField(allow_blank=True, help_text="whose password it is for")
    expires = serializers.DateTimeField()


class HouseSerializer(serializers.Serializer[Any]):
    """How it is."""

    version = serializers.CharField()
    open = serializers.BooleanField(help_text="whether anybody may make an account")
    makers = MakerSerializer(many=True)
    free_mb = serializers.IntegerField()
    data_mb = serializers.FloatField()
    jobs = serializers.IntegerField(help_text="under way")
    failed = serializers.IntegerField(help_text="that ended badly")
    backup = LastBackupSerializer(allow_null=True)
    addresses = AddressSerializer(many=True)
    invitations = OutInvitationSerializer(many=True)


class OpenSerializer(serializers.Serializer[Any]):
    """Who may make an account."""

    open = serializers.BooleanField()


class InviteSerializer(serializers.Serializer[Any]):
    """For whom an invitation is; ``reset`` is the number of the maker who needs a new password."""

    said = serializers.CharField(max_length=120, allow_blank=True, default="")
    reset = serializers.IntegerField(required=False)


class LinkSerializer(serializers.Serializer[Any]):
    """A link to be handed on; it is told once."""

    token = serializers.CharField()


class GoneSerializer(serializers.Serializer[Any]):
    """The password, to be certain."""

    password = serializers.CharField(max_length=200)


class HealthSerializer(serializers.Serializer[Any]):
    """Whether it works."""

    ok = serializers.BooleanField()


def _house() -> Response:
    found = house_json()
    addresses = [{**a, "side": code_side(a["address"])} for a in found["addresses"]]
    return Response({**found, "addresses": addresses})


class HouseView(APIView):
    """How it is, for who runs it."""

    permission_classes = (OwnerOnly,)

    @extend_schema(responses={200: HouseSerializer, **refusals(403)})
    def get(self, request: Request) -> Response:
        """In one look."""
        return _house()

    @extend_schema(request=OpenSerializer, responses={200: HouseSerializer, **refusals(400, 403)})
    def patch(self, request: Request) -> Response:
        """By invitation, or open to anybody who finds it."""
        House.objects.update_or_create(pk=1, defaults={"open": asked(OpenSerializer, request)["open"]})
        return _house()


class InvitationsView(APIView):
    """Invitations."""

    permission_classes = (OwnerOnly,)

    @extend_schema(request=InviteSerializer, responses={201: LinkSerializer, **refusals(400, 403, 404)})
    def post(self, request: Request) -> Response:
        """A link that makes an account, or a new password for somebody who has one."""
        wanted = asked(InviteSerializer, request)
        reset = None
        if wanted.get("reset") is not None:
            reset = get_object_or_404(get_user_model(), pk=wanted["reset"], is_active=True)
        _, token = invitations.invite(maker(request), wanted["said"].strip(), reset)
        return Response({"token": token}, status=201)


class OneInvitationView(APIView):
    """One invitation."""

    permission_classes = (OwnerOnly,)

    @extend_schema(responses={204: None, **refusals(403, 404)})
    def delete(self, request: Request, pk: int) -> Response:
        """Worth nothing any more."""
        invitations.take_back(pk)
        return Response(status=204)


class GoneView(APIView):
    """An account that is given up."""

    throttle_classes = (SigningIn,)

    @extend_schema(request=GoneSerializer, responses={204: None, **refusals(400, 429)})
    def post(self, request: Request) -> Response:
        """Everything of it is gone for good."""
        user = certain(request, asked(GoneSerializer, request)["password"])
        others = real_makers().exclude(pk=user.pk)
        if runs_the_house(user) and others.exists() and not others.filter(is_staff=True).exists():
            raise BadValue(LAST)
        leave_for_good(user)
        logout(request._request)
        return Response(status=204)


class HealthView(APIView):
    """Whether it works, for whatever watches over it."""

    authentication_classes = ()
    permission_classes = (AllowAny,)

    @extend_schema(responses={200: HealthSerializer, 503: HealthSerializer})
    def get(self, request: Request) -> Response:
        """The database answers, and there is room to write."""
        try:
            with connection.cursor() as cursor:
                cursor.execute("SELECT 1 FROM django_migrations LIMIT 1")
            ok = backups.folder().parent.exists()
        except Exception:  # whatever it is, the answer is the same: it does not work
            ok = False
        return Response({"ok": ok}, status=200 if ok else 503)
