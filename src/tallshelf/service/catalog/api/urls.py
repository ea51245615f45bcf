from __future__ import annotations

from django.urls import path

from tallshelf.service.catalog.api import views

urlpatterns = [
    path("servers", views.ServersView.as_view()),
    path("servers/<str:slug>", views.ServerView.as_view()),
    path("servers/<str:slug>/releases/<str:version>", views.ReleaseView.as_view()),
    path("servers/<str:slug>/releases/<str:version>/snapshot", views.SnapshotView.as_view()),
    path("servers/<str:slug>/releases/<str:version>/items", views.ItemsView.as_view()),
    path("servers/<str:slug>/releases/<str:version>/findings", views.FindingsView.as_view()),
    path("servers/<str:slug>/releases/<str:version>/overlaps", views.OverlapsView.as_view()),
    path("servers/<str:slug>/releases/<str:version>/connection", views.ConnectionView.as_view()),
    path("servers/<str:slug>/releases/<str:version>/retirement", views.RetirementView.as_view()),
    path("find", views.FindView.as_view()),
    path("catalog-items", views.CatalogItemsView.as_view()),
    path("comparison", views.ComparisonView.as_view()),
    path("by-digest/<str:digest>", views.ByDigestView.as_view()),
    path("suspensions", views.SuspensionsView.as_view()),
]
