from __future__ import annotations

from django.urls import path

from tallshelf.service.catalog.api import views

urlpatterns = [
    path("servers", views.ServersView.as_view(), name="servers"),
    path("servers/<str:slug>", views.ServerView.as_view(), name="server"),
    path("servers/<str:slug>/releases/<str:version>", views.ReleaseView.as_view(), name="release"),
    path("servers/<str:slug>/releases/<str:version>/snapshot", views.SnapshotView.as_view(), name="snapshot"),
    path("servers/<str:slug>/releases/<str:version>/items", views.ItemsView.as_view(), name="items"),
    path("servers/<str:slug>/releases/<str:version>/findings", views.FindingsView.as_view(), name="findings"),
    path("servers/<str:slug>/releases/<str:version>/overlaps", views.OverlapsView.as_view(), name="overlaps"),
    path(
        "servers/<str:slug>/releases/<str:version>/connection",
        views.ConnectionView.as_view(),
        name="connection",
    ),
    path(
        "servers/<str:slug>/releases/<str:version>/retirement",
        views.RetirementView.as_view(),
        name="retirement",
    ),
    path("rules", views.RulesView.as_view(), name="rules"),
    path("find", views.FindView.as_view(), name="find"),
    path("catalog-items", views.CatalogItemsView.as_view(), name="catalog-items"),
    path("servers/<str:slug>/timeline", views.TimelineView.as_view(), name="timeline"),
    path("servers/<str:slug>/life", views.LifeView.as_view(), name="life"),
    path("stand-in", views.StandInView.as_view(), name="stand-in"),
    path("comparison", views.ComparisonView.as_view(), name="comparison"),
    path("by-digest/<str:digest>", views.ByDigestView.as_view(), name="by-digest"),
    path("suspensions", views.SuspensionsView.as_view(), name="suspensions"),
]
