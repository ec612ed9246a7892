"""Addresses of a whole account."""

from django.urls import path

from studio.carry import views

urlpatterns = [
    path("account", views.CarryView.as_view()),
    path("account/out", views.CarryOutView.as_view()),
    path("account/in", views.CarryInView.as_view()),
    path("account/archive.zip", views.ArchiveView.as_view()),
]
