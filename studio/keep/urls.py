"""Addresses of the house."""

from django.urls import path

from studio.keep import views

urlpatterns = [
    path("house", views.HouseView.as_view()),
    path("house/invitations", views.InvitationsView.as_view()),
    path("house/invitations/<row:pk>", views.OneInvitationView.as_view()),
    path("accounts/gone", views.GoneView.as_view()),
    path("health", views.HealthView.as_view()),
]
