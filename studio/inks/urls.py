"""Addresses of the drawer."""

from django.urls import path

from studio.inks import card_views, gaps, import_views, reader_views, views
from studio.inks.out_views import DrawerOutView
from studio.inks.recipes import RecipesView

urlpatterns = [
    path("inks", views.InksView.as_view()),
    path("inks/<row:pk>", views.InkView.as_view()),
    path("inks/<row:pk>/back", views.InkBackView.as_view()),
    path("inks/<row:pk>/swatches", reader_views.SwatchesView.as_view()),
    path("inks/<row:pk>/swatches/<row:index>", reader_views.SwatchView.as_view()),
    path("gaps", gaps.GapsView.as_view()),
    path("sectors", gaps.SectorsView.as_view()),
    path("recipes", RecipesView.as_view()),
    path("stocks", views.StocksView.as_view()),
    path("stocks/<row:pk>", views.StockView.as_view()),
    path("tools", views.ToolsView.as_view()),
    path("tools/<row:pk>", views.ToolView.as_view()),
    path("drawer/history", views.DrawerHistoryView.as_view()),
    path("drawer/undo", views.DrawerUndoView.as_view()),
    path("drawer/redo", views.DrawerRedoView.as_view()),
    path("drawer/out/<str:file>", DrawerOutView.as_view()),
    path("ink-imports", import_views.InkImportsView.as_view()),
    path("ink-imports/<row:pk>", import_views.InkImportView.as_view()),
    path("ink-imports/<row:pk>/keep", import_views.InkImportKeepView.as_view()),
    path("ink-imports/<row:pk>/problems", import_views.InkImportProblemsView.as_view()),
    path("swatch-cards", card_views.SwatchCardsView.as_view()),
    path("swatch-cards/<row:pk>", card_views.SwatchCardView.as_view()),
    path("swatch-cards/<row:pk>/pdf", card_views.SwatchCardPdfView.as_view()),
    path("swatch-cards/<row:pk>/sample", card_views.SwatchCardSampleView.as_view()),
    path("swatch-cards/<row:pk>/photograph", card_views.SwatchCardPhotographView.as_view()),
    path("swatch-cards/<row:pk>/keep", card_views.SwatchCardKeepView.as_view()),
    path("reader", reader_views.ReaderView.as_view()),
    path("reader/tile", reader_views.ReaderTileView.as_view()),
    path("readings", reader_views.ReadingsView.as_view()),
]
