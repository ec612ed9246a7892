"""Addresses of accounts."""

from django.urls import path

from studio.accounts.views import AccountsView, DemoView, PreferencesView, SessionView

urlpatterns = [
    path("session", SessionView.as_view()),
    path("session/demo", DemoView.as_view()),
    path("accounts", AccountsView.as_view()),
    path("preferences", PreferencesView.as_view()),
]
