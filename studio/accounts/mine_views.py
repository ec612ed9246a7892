"""What a maker does with her own account: another password, signed out everywhere, gone for good."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import get_user_model, login, logout, update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadValue
from studio.accounts import invitations
from studio.accounts.demo import DEMO_NAME
from studio.accounts.passwords import one_of_few
from studio.accounts.signing_in import known, sign_out_everywhere
from studio.accounts.throttles import SigningIn
from studio.asked import asked, maker
from studio.errors import refusals
from studio.gate import KeepableJSON

WRONG = "That is not your password."
DEMO = "The demo maker belongs to everybody here; make an account of your own for that."


class PasswordSerializer(serializers.Serializer[Any]):
    """The password as it is, and as it is to be."""

    old = serializers.CharField(max_length=200)
    new = serializers.CharField(max_length=200)


class NewPasswordSerializer(serializers.Serializer[Any]):
    """A new password by a link."""

    password = serializers.CharField(max_length=200)


class InvitationFoundSerializer(serializers.Serializer[Any]):
    """What a link is for."""

    kind = serializers.ChoiceField(choices=("join", "reset"))
    name = serializers.CharField(allow_blank=True, help_text="whose password, with a reset")


def _checked(user: Any, password: str) -> None:
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise BadValue(" ".join(error.messages), "new") from error


def certain(request: Request, password: str) -> Any:
    """The maker who is signed in, once she has said her password; raises BadValue."""
    user = maker(request)
    if user.get_username() == DEMO_NAME:
        raise BadValue(DEMO)
    # counted like signing in: a page that was left open is no way to guess
    if known(request._request, user.get_username(), password) is None:
        raise BadValue(WRONG, "old")
    return user


class PasswordView(APIView):
    """The password of who is signed in."""

    throttle_classes = (SigningIn,)

    @extend_schema(request=PasswordSerializer, responses={204: None, **refusals(400, 429)})
    def post(self, request: Request) -> Response:
        """Another password; every other device is signed out."""
        wanted = asked(PasswordSerializer, request)
        user = certain(request, wanted["old"])
        _checked(user, wanted["new"])
        with one_of_few():
            user.set_password(wanted["new"])
        user.save(update_fields=["password"])
        update_session_auth_hash(request._request, user)
        sign_out_everywhere(user, but=request._request.session.session_key)
        return Response(status=204)


class EverywhereView(APIView):
    """Every device on which somebody is signed in."""

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request) -> Response:
        """Sign out on all of them, this one too."""
        sign_out_everywhere(maker(request))
        logout(request._request)
        return Response(status=204)


@method_decorator(csrf_protect, name="dispatch")
class InvitationView(APIView):
    """A link that was given to somebody."""

    permission_classes = (AllowAny,)
    parser_classes = (KeepableJSON,)
    throttle_classes = (SigningIn,)

    @extend_schema(responses={200: InvitationFoundSerializer, **refusals(400, 429)})
    def get(self, request: Request, token: str) -> Response:
        """What it is for."""
        row = invitations.found(token)
        if row is None:
            raise BadValue(invitations.WORN_OUT, "token")
        of = row.reset.get_username() if row.reset is not None else ""
        return Response({"kind": "reset" if of else "join", "name": of})

    @extend_schema(request=NewPasswordSerializer, responses={204: None, **refusals(400, 429)})
    def post(self, request: Request, token: str) -> Response:
        """A new password by a link that was made for it; whoever had the old one is signed out."""
        row = invitations.found(token)
        if row is None or row.reset is None:
            raise BadValue(invitations.WORN_OUT, "token")
        password, user = asked(NewPasswordSerializer, request)["password"], row.reset
        _checked(user, password)
        invitations.use(row)
        with one_of_few():
            user.set_password(password)
        user.save(update_fields=["password"])
        sign_out_everywhere(user)
        signed_in = get_user_model().objects.get(pk=user.pk)
        login(request._request, signed_in, backend="django.contrib.auth.backends.ModelBackend")
        return Response(status=204)
