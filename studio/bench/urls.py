"""Addresses of the table and of Home."""

from django.urls import path

from studio.bench import record_views, views

urlpatterns = [
    path("builds", views.HomeView.as_view()),
    path("colourings/<row:pk>/table", views.TableView.as_view()),
    path("colourings/<row:pk>/table/wrong", views.WrongView.as_view()),
    path("colourings/<row:pk>/table/painting", views.CardPaintingView.as_view()),
    path("colourings/<row:pk>/table/build-up", views.CardBuildUpView.as_view()),
    path("records", record_views.RecordsView.as_view()),
    path("records/<row:pk>", record_views.RecordView.as_view()),
    path("records/<row:pk>/back", record_views.RecordBackView.as_view()),
    path("records/<row:pk>/picture", record_views.RecordPictureView.as_view()),
    path("records/<row:pk>/again", record_views.MakeAgainView.as_view()),
    path("records/<row:pk>/photographs", record_views.PhotographsView.as_view()),
    path("records/<row:pk>/photographs/<row:photograph>", record_views.PhotographView.as_view()),
]
