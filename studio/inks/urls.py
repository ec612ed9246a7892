"""Addresses of the drawer."""

from django.urls import path

from studio.inks import card_views, import_views, opened, reader_views, views
from studio.inks.out_views import DrawerOutView
from studio.inks.recipes import RecipesView

urlpatterns = [
    path("inks", views.InksView.as_view()),
    path("inks/<int:pk>", views.InkView.as_view()),
    path("inks/<int:pk>/back", views.InkBackView.as_view()),
    path("inks/<int:pk>/opened", opened.OpenedView.as_view()),
    path("inks/<int:pk>/swatches", reader_views.SwatchesView.as_view()),
    path("inks/<int:pk>/swatches/<int:index>", reader_views.SwatchView.as_view()),
    path("gaps", opened.GapsView.as_view()),
    path("recipes", RecipesView.as_view()),
    path("stocks", views.StocksView.as_view()),
    path("stocks/<int:pk>", views.StockView.as_view()),
    path("tools", views.ToolsView.as_view()),
    path("tools/<int:pk>", views.ToolView.as_view()),
    path("drawer/history", views.DrawerHistoryView.as_view()),
    path("drawer/undo", views.DrawerUndoView.as_view()),
    path("drawer/redo", views.DrawerRedoView.as_view()),
    path("drawer/out/<str:file>", DrawerOutView.as_view()),
    path("ink-imports", import_views.InkImportsView.as_view()),
    path("ink-imports/<int:pk>", import_views.InkImportView.as_view()),
    path("ink-imports/<int:pk>/keep", import_views.InkImportKeepView.as_view()),
    path("ink-imports/<int:pk>/problems", import_views.InkImportProblemsView.as_view()),
    path("swatch-cards", card_views.SwatchCardsView.as_view()),
    path("swatch-cards/<int:pk>", card_views.SwatchCardView.as_view()),
    path("swatch-cards/<int:pk>/pdf", card_views.SwatchCardPdfView.as_view()),
    path("swatch-cards/<int:pk>/sample", card_views.SwatchCardSampleView.as_view()),
    path("swatch-cards/<int:pk>/photograph", card_views.SwatchCardPhotographView.as_view()),
    path("swatch-cards/<int:pk>/keep", card_views.SwatchCardKeepView.as_view()),
    path("reader", reader_views.ReaderView.as_view()),
    path("reader/tile", reader_views.ReaderTileView.as_view()),
    path("readings", reader_views.ReadingsView.as_view()),
]
