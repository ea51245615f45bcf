from __future__ import annotations

from django.urls import path

from tallshelf.service.kits.api import comparison_views, views

urlpatterns = [
    path("kits", views.KitsView.as_view(), name="kits"),
    path("kit-check", views.KitCheckView.as_view(), name="kit-check"),
    path("kit-matrix", views.KitMatrixView.as_view(), name="kit-matrix"),
    path("kit-reading", views.KitReadingView.as_view(), name="kit-reading"),
    path("kit-proposals", views.ProposedKitsView.as_view(), name="kit-proposals"),
    path("kits/<str:name>", views.KitView.as_view(), name="kit"),
    path("kits/<str:name>/drop", views.KitDropView.as_view(), name="kit-drop"),
    path("kits/<str:name>/moves", views.KitMovesView.as_view(), name="kit-moves"),
    path("kits/<str:name>/answer", views.KitAnswerView.as_view(), name="kit-answer"),
    path("comparison", comparison_views.ComparisonView.as_view(), name="comparison"),
    path("servers/<str:slug>/ending", views.EndingView.as_view(), name="ending"),
    path("servers/<str:slug>/kits", views.ServerKitsView.as_view(), name="server-kits"),
]
