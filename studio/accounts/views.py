"""Signing in and out, making an account, preferences."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, get_user_model, login, logout
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
from studio.accounts.demo import STAY_OUT, from_this_machine
from studio.accounts.models import Preference, units_of
from studio.accounts.serializers import PreferenceSerializer, SessionSerializer, SignInSerializer


def _session(request: Request) -> dict[str, Any]:
    user = request._request.user
    demo = settings.DEMO_MODE and from_this_machine(request._request)
    return {"name": user.get_username() or None, "units": units_of(user), "demo": demo}


@method_decorator(csrf_protect, name="dispatch")
class SessionView(APIView):
    """Who is here; sign in; sign out."""

    permission_classes = (AllowAny,)

    @extend_schema(responses=SessionSerializer)
    def get(self, request: Request) -> Response:
        """Who is signed in, if anybody."""
        return Response(_session(request))

    @extend_schema(request=SignInSerializer, responses=SessionSerializer)
    def post(self, request: Request) -> Response:
        """Sign in."""
        wanted = SignInSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        user = authenticate(
            request._request,
            username=wanted.validated_data["name"],
            password=wanted.validated_data["password"],
        )
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

    @extend_schema(request=SignInSerializer, responses={201: SessionSerializer})
    def post(self, request: Request) -> Response:
        """Make an account and sign in."""
        wanted = SignInSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        name, password = wanted.validated_data["name"], wanted.validated_data["password"]
        User = get_user_model()
        try:
            candidate = User(username=name)
            candidate.full_clean(exclude=["password"], validate_unique=False)
            validate_password(password, candidate)
        except ValidationError as error:
            raise BadValue(" ".join(error.messages), "password") from error
        try:
            with transaction.atomic():
                user = User.objects.create_user(username=name, password=password)
        except IntegrityError as error:
            raise BadValue("Somebody here already has that name.", "name") from error
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
