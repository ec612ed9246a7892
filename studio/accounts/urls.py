"""Addresses of accounts."""

from django.urls import path

from studio.accounts.mine_views import EverywhereView, InvitationView, PasswordView
from studio.accounts.views import AccountsView, DemoView, PreferencesView, SessionView

urlpatterns = [
    path("session", SessionView.as_view()),
    path("session/demo", DemoView.as_view()),
    path("session/password", PasswordView.as_view()),
    path("session/everywhere", EverywhereView.as_view()),
    path("invitations/<str:token>", InvitationView.as_view()),
    path("accounts", AccountsView.as_view()),
    path("preferences", PreferencesView.as_view()),
]
