"""Addresses of the table and of Home."""

from django.urls import path

from studio.bench.views import HomeView, TableView

urlpatterns = [
    path("builds", HomeView.as_view()),
    path("colourings/<row:pk>/table", TableView.as_view()),
]
