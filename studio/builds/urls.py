"""Addresses of builds and their colourings, and of what is said of a pad by the builds that use it."""

from django.urls import path

from studio.builds import (
    beside_views,
    evening_views,
    finish_views,
    order_views,
    panel_views,
    picture_views,
    proposal_views,
    share_views,
    views,
)
from studio.builds import colouring_views as colourings
from studio.builds.opened import OpenedView

urlpatterns = [
    path("builds/<row:pk>", views.BuildView.as_view()),
    path("builds/<row:pk>/back", views.BuildBackView.as_view()),
    path("builds/<row:pk>/colourings", colourings.ColouringsView.as_view()),
    path("colourings/<row:pk>", colourings.ColouringView.as_view()),
    path("colourings/<row:pk>/back", colourings.ColouringBackView.as_view()),
    path("colourings/<row:pk>/edits", colourings.EditsView.as_view()),
    path("colourings/<row:pk>/undo", colourings.UndoView.as_view()),
    path("colourings/<row:pk>/redo", colourings.RedoView.as_view()),
    path("colourings/<row:pk>/picture", picture_views.PictureView.as_view()),
    path("colourings/<row:pk>/passes/<str:key>/tryouts", colourings.TryoutsView.as_view()),
    path("colourings/<row:pk>/stand-ins", colourings.StandInsView.as_view()),
    path("colourings/<row:pk>/file", colourings.BuildFileView.as_view()),
    path("colourings/<row:pk>/painting", picture_views.PaintingView.as_view()),
    path("colourings/<row:pk>/build-up", picture_views.BuildUpView.as_view()),
    path("colourings/<row:pk>/try", picture_views.TryView.as_view()),
    path("colourings/<row:pk>/panel", panel_views.LaidView.as_view()),
    path("colourings/<row:pk>/cut/<str:key>", panel_views.CutLineView.as_view()),
    path("colourings/<row:pk>/lay-out-others", panel_views.LayOutOthersView.as_view()),
    path("colourings/<row:pk>/proposals", proposal_views.ProposalsView.as_view()),
    path("colourings/<row:pk>/order", order_views.OrderView.as_view()),
    path("colourings/<row:pk>/order/search", order_views.SearchView.as_view()),
    path("colourings/<row:pk>/order/taken", order_views.TakeView.as_view()),
    path("colourings/<row:pk>/order/why/<row:place>", order_views.WhyView.as_view()),
    path("colourings/<row:pk>/plan.pdf", finish_views.PlanPdfView.as_view()),
    path("colourings/<row:pk>/supplies.csv", finish_views.SuppliesView.as_view()),
    path("colourings/<row:pk>/finish", finish_views.FinishView.as_view()),
    path("colourings/<row:pk>/against/<row:other>", beside_views.AgainstView.as_view()),
    path("colourings/<row:pk>/palette", beside_views.PaletteInView.as_view()),
    path("colourings/<row:pk>/palette.<str:kind>", beside_views.PaletteOutView.as_view()),
    path("colourings/<row:pk>/shares", share_views.SharesView.as_view()),
    path("colourings/<row:pk>/shares/<row:share>", share_views.ShareView.as_view()),
    path("shared/<str:token>", share_views.SharedView.as_view()),
    path("shared/<str:token>/picture", share_views.SharedPictureView.as_view()),
    path("shared/<str:token>/plan.pdf", share_views.SharedPdfView.as_view()),
    path("evening", evening_views.EveningView.as_view()),
    path("postal-rates", finish_views.RatesView.as_view()),
    path("picture-colours", proposal_views.PictureColoursView.as_view()),
    path("formats", panel_views.FormatsView.as_view()),
    path("inks/<row:pk>/opened", OpenedView.as_view()),
]
