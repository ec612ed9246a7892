"""Addresses of the table and of Home."""

from django.urls import path

from studio.bench import lesson_views, photograph_views, record_views, table_photograph_views, views

urlpatterns = [
    path("builds", views.HomeView.as_view()),
    path("colourings/<row:pk>/table", views.TableView.as_view()),
    path("colourings/<row:pk>/table/wrong", views.WrongView.as_view()),
    path("colourings/<row:pk>/table/painting", views.CardPaintingView.as_view()),
    path("colourings/<row:pk>/table/build-up", views.CardBuildUpView.as_view()),
    path("colourings/<row:pk>/table/photographs", table_photograph_views.TablePhotographsView.as_view()),
    path("table-photographs/<row:pk>", table_photograph_views.TablePhotographView.as_view()),
    path("records", record_views.RecordsView.as_view()),
    path("records/<row:pk>", record_views.RecordView.as_view()),
    path("records/<row:pk>/back", record_views.RecordBackView.as_view()),
    path("records/<row:pk>/picture", record_views.RecordPictureView.as_view()),
    path("records/<row:pk>/again", record_views.MakeAgainView.as_view()),
    path("records/<row:pk>/photographs", photograph_views.PhotographsView.as_view()),
    path("records/<row:pk>/photographs/simulated", photograph_views.SimulatedView.as_view()),
    path("records/<row:pk>/photographs/<row:photograph>", photograph_views.PhotographView.as_view()),
    path("records/<row:pk>/photographs/<row:photograph>/reading", photograph_views.ReadingView.as_view()),
    path("records/<row:pk>/photographs/<row:photograph>/straight", photograph_views.StraightView.as_view()),
    path("lesson", lesson_views.LessonView.as_view()),
    path("lesson/keep", lesson_views.KeepLessonView.as_view()),
    path("lesson/forget", lesson_views.ForgetLessonView.as_view()),
]
