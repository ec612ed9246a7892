"""Addresses of sets."""

from django.urls import path

from studio.sets.views import SetBackView, SetsView, SetView

urlpatterns = [
    path("sets", SetsView.as_view()),
    path("sets/<int:pk>", SetView.as_view()),
    path("sets/<int:pk>/back", SetBackView.as_view()),
]
