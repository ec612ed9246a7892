"""Addresses of the table and of Home."""

from django.urls import path

from studio.bench import views

urlpatterns = [
    path("builds", views.HomeView.as_view()),
    path("colourings/<row:pk>/table", views.TableView.as_view()),
    path("colourings/<row:pk>/table/wrong", views.WrongView.as_view()),
    path("colourings/<row:pk>/table/painting", views.CardPaintingView.as_view()),
    path("colourings/<row:pk>/table/build-up", views.CardBuildUpView.as_view()),
]
