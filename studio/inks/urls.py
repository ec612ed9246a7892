"""Addresses of the drawer."""

from django.urls import path

from studio.inks.recipes import RecipesView
from studio.inks.views import DrawerView, InkBackView, InksView, InkView, StocksView

urlpatterns = [
    path("inks", InksView.as_view()),
    path("inks/<int:pk>", InkView.as_view()),
    path("inks/<int:pk>/back", InkBackView.as_view()),
    path("recipes", RecipesView.as_view()),
    path("stocks", StocksView.as_view()),
    path("drawer", DrawerView.as_view()),
]
