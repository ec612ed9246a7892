"""Addresses of builds."""

from django.urls import path

from studio.builds.views import (
    BuildBackView,
    BuildFileView,
    BuildsView,
    BuildView,
    EditsView,
    PictureView,
    RedoView,
    StandInsView,
    TryoutsView,
    UndoView,
)

urlpatterns = [
    path("builds", BuildsView.as_view()),
    path("builds/<int:pk>", BuildView.as_view()),
    path("builds/<int:pk>/back", BuildBackView.as_view()),
    path("builds/<int:pk>/edits", EditsView.as_view()),
    path("builds/<int:pk>/undo", UndoView.as_view()),
    path("builds/<int:pk>/redo", RedoView.as_view()),
    path("builds/<int:pk>/picture", PictureView.as_view()),
    path("builds/<int:pk>/passes/<str:key>/tryouts", TryoutsView.as_view()),
    path("builds/<int:pk>/stand-ins", StandInsView.as_view()),
    path("builds/<int:pk>/file", BuildFileView.as_view()),
]
