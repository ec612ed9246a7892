"""Addresses of the table."""

from django.urls import path

from studio.bench.views import TableView

urlpatterns = [path("builds/<int:pk>/table", TableView.as_view())]
