"""Signing in and out, making an account, preferences."""

from __future__ import annotations

import unicodedata
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model, login, logout
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadValue
from studio.accounts import invitations
from studio.accounts.demo import STAY_OUT, from_this_machine
from studio.accounts.models import House, Preference, units_of
from studio.accounts.names import TAKEN, refuse_look_alikes
from studio.accounts.owner import runs_the_house
from studio.accounts.passwords import one_of_few
from studio.accounts.serializers import (
    JoinSerializer,
    PreferenceSerializer,
    SessionSerializer,
    SignInSerializer,
)
from studio.accounts.signing_in import known
from studio.accounts.throttles import Accounts, SigningIn
from studio.asked import asked
from studio.errors import refusals
from studio.gate import KeepableJSON


def _session(request: Request) -> dict[str, Any]:
    user = request._request.user
    demo = settings.DEMO_MODE and from_this_machine(request._request)
    here = invitations.anybody_here()
    return {
        "name": user.get_username() or None,
        "units": units_of(user),
        "demo": demo,
        "owner": runs_the_house(user),
        "joining": "open" if demo else "first" if not here else "open" if House.is_open() else "invited",
    }


@method_decorator(csrf_protect, name="dispatch")
class SessionView(APIView):
    """Who is here; sign in; sign out."""

    permission_classes = (AllowAny,)
    parser_classes = (KeepableJSON,)

    def get_throttles(self) -> list[Any]:
        """Signing in is counted; being looked up and signing out are not."""
        return [SigningIn()] if self.request.method == "POST" else []

    @extend_schema(responses=SessionSerializer)
    def get(self, request: Request) -> Response:
        """Who is signed in, if anybody."""
        return Response(_session(request))

    @extend_schema(request=SignInSerializer, responses={200: SessionSerializer, **refusals(400, 429)})
    def post(self, request: Request) -> Response:
        """Sign in."""
        wanted = asked(SignInSerializer, request)
        user = known(request._request, wanted["name"], wanted["password"])
        if user is None:
            raise BadValue("That name and password do not belong together.", "password")
        login(request._request, user)
        answer = Response(_session(request))
        answer.delete_cookie(STAY_OUT)
        return answer

    @extend_schema(request=None, responses=SessionSerializer)
    def delete(self, request: Request) -> Response:
        """Sign out."""
        logout(request._request)
        answer = Response(_session(request))
        answer.set_cookie(STAY_OUT, "1", samesite="Lax")
        return answer


@method_decorator(csrf_protect, name="dispatch")
class DemoView(APIView):
    """Go in as the demo maker again, where the demo allows it."""

    permission_classes = (AllowAny,)
    parser_classes = (KeepableJSON,)

    @extend_schema(request=None, responses=SessionSerializer)
    def post(self, request: Request) -> Response:
        """Forget that the maker wanted to stay out."""
        if not (settings.DEMO_MODE and from_this_machine(request._request)):
            raise BadValue("The demo is not open here.")
        answer = Response(_session(request))
        answer.delete_cookie(STAY_OUT)
        return answer


@method_decorator(csrf_protect, name="dispatch")
class AccountsView(APIView):
    """Making an account."""

    permission_classes = (AllowAny,)
    parser_classes = (KeepableJSON,)
    throttle_classes = (Accounts,)

    @extend_schema(request=JoinSerializer, responses={201: SessionSerializer, **refusals(400, 429)})
    def post(self, request: Request) -> Response:
        """Make an account and sign in: by invitation, unless it is the first one or the house is open."""
        wanted = asked(JoinSerializer, request)
        demo = settings.DEMO_MODE and from_this_machine(request._request)
        invitation = invitations.may_join(wanted["token"], demo)
        name, password = unicodedata.normalize("NFKC", wanted["name"]), wanted["password"]
        User = get_user_model()
        try:
            candidate = User(username=name)
            candidate.full_clean(exclude=["password"], validate_unique=False)
            validate_password(password, candidate)
        except ValidationError as error:
            raise BadValue(" ".join(error.messages), "password") from error
        refuse_look_alikes(name)
        first = not invitations.anybody_here()
        try:
            with transaction.atomic(), one_of_few():
                invitations.use(invitation)
                user = User.objects.create_user(username=name, password=password, is_staff=first)
        except IntegrityError as error:
            raise BadValue(TAKEN, "name") from error
        login(request._request, user, backend="django.contrib.auth.backends.ModelBackend")
        return Response(_session(request), status=201)


class PreferencesView(APIView):
    """The maker's units."""

    @extend_schema(request=PreferenceSerializer, responses=PreferenceSerializer)
    def patch(self, request: Request) -> Response:
        """Change what is preferred."""
        row, _ = Preference.objects.get_or_create(owner=request.user)  # type: ignore[misc]
        wanted = PreferenceSerializer(row, data=request.data, partial=True)
        wanted.is_valid(raise_exception=True)
        wanted.save()
        return Response(wanted.data)
