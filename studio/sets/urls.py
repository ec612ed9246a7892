"""Addresses of sets and of what is on its way in."""

from django.urls import path

from studio.sets import import_views as brought
from studio.sets import views

urlpatterns = [
    path("sets", views.SetsView.as_view()),
    path("sets/<int:pk>", views.SetView.as_view()),
    path("sets/<int:pk>/back", views.SetBackView.as_view()),
    path("sets/<int:pk>/edits", views.SetEditsView.as_view()),
    path("sets/<int:pk>/undo", views.SetUndoView.as_view()),
    path("sets/<int:pk>/redo", views.SetRedoView.as_view()),
    path("sets/<int:pk>/measures", views.SetMeasuresView.as_view()),
    path("sets/<int:pk>/trim", views.SetTrimView.as_view()),
    path("sets/<int:pk>/mask.svg", views.SetMaskView.as_view()),
    path("sets/<int:pk>/drawing.svg", views.SetDrawingView.as_view()),
    path("sets/<int:pk>/bundle.zip", views.SetBundleView.as_view()),
    path("sets/<int:pk>/pictures/<str:name>", views.SetPictureView.as_view()),
    path("imports", brought.ImportsView.as_view()),
    path("imports/<int:pk>", brought.ImportView.as_view()),
    path("imports/<int:pk>/stop", brought.ImportStopView.as_view()),
    path("imports/<int:pk>/again", brought.ImportAgainView.as_view()),
    path("imports/<int:pk>/keep", brought.ImportKeepView.as_view()),
    path("imports/<int:pk>/photos/<int:index>", brought.ImportPhotoView.as_view()),
]
