"""Addresses of sets and of what is on its way in."""

from django.urls import path

from studio.sets import import_views as brought
from studio.sets import views

urlpatterns = [
    path("sets", views.SetsView.as_view()),
    path("sets/<row:pk>", views.SetView.as_view()),
    path("sets/<row:pk>/preview", views.SetPreviewView.as_view()),
    path("sets/<row:pk>/back", views.SetBackView.as_view()),
    path("sets/<row:pk>/edits", views.SetEditsView.as_view()),
    path("sets/<row:pk>/undo", views.SetUndoView.as_view()),
    path("sets/<row:pk>/redo", views.SetRedoView.as_view()),
    path("sets/<row:pk>/measures", views.SetMeasuresView.as_view()),
    path("sets/<row:pk>/trim", views.SetTrimView.as_view()),
    path("sets/<row:pk>/mask.svg", views.SetMaskView.as_view()),
    path("sets/<row:pk>/drawing.svg", views.SetDrawingView.as_view()),
    path("sets/<row:pk>/bundle.zip", views.SetBundleView.as_view()),
    path("sets/<row:pk>/pictures/<str:name>", views.SetPictureView.as_view()),
    path("imports", brought.ImportsView.as_view()),
    path("imports/<row:pk>", brought.ImportView.as_view()),
    path("imports/<row:pk>/stop", brought.ImportStopView.as_view()),
    path("imports/<row:pk>/again", brought.ImportAgainView.as_view()),
    path("imports/<row:pk>/fit", brought.ImportFitView.as_view()),
    path("imports/<row:pk>/photographs", brought.ImportMoreView.as_view()),
    path("imports/<row:pk>/keep", brought.ImportKeepView.as_view()),
    path("imports/<row:pk>/photos/<row:index>", brought.ImportPhotoView.as_view()),
]
