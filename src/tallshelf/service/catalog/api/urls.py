from __future__ import annotations

from django.urls import path

from tallshelf.service.catalog.api import look_views, note_views, overlap_views, style_views, views

urlpatterns = [
    path("shelf", views.ShelfView.as_view(), name="shelf"),
    path("servers", views.ServersView.as_view(), name="servers"),
    path("servers/<str:slug>", views.ServerView.as_view(), name="server"),
    path("servers/<str:slug>/releases/<str:version>", views.ReleaseView.as_view(), name="release"),
    path("servers/<str:slug>/releases/<str:version>/snapshot", views.SnapshotView.as_view(), name="snapshot"),
    path("servers/<str:slug>/releases/<str:version>/items", views.ItemsView.as_view(), name="items"),
    path(
        "servers/<str:slug>/releases/<str:version>/findings",
        style_views.FindingsView.as_view(),
        name="findings",
    ),
    path(
        "servers/<str:slug>/releases/<str:version>/overlaps",
        overlap_views.OverlapsView.as_view(),
        name="overlaps",
    ),
    path(
        "servers/<str:slug>/releases/<str:version>/connection",
        views.ConnectionView.as_view(),
        name="connection",
    ),
    path(
        "servers/<str:slug>/releases/<str:version>/notes", note_views.NotesView.as_view(), name="user-notes"
    ),
    path("user-notes/<int:number>", note_views.NoteView.as_view(), name="user-note"),
    path("user-notes/<int:number>/answer", note_views.NoteAnswerView.as_view(), name="note-answer"),
    path("rules", style_views.RulesView.as_view(), name="rules"),
    path("lint", style_views.LintView.as_view(), name="lint"),
    path("style", style_views.StyleView.as_view(), name="style"),
    path("style/effect", style_views.StyleEffectView.as_view(), name="style-effect"),
    path("styles", style_views.StylesView.as_view(), name="styles"),
    path("styles/<int:version>/answer", style_views.StyleAnswerView.as_view(), name="style-answer"),
    path("findings", style_views.CatalogFindingsView.as_view(), name="catalog-findings"),
    path("findings/places", style_views.PlacesView.as_view(), name="places"),
    path("servers/<str:slug>/known-findings", style_views.KnownView.as_view(), name="known-findings"),
    path("known-findings", style_views.ProposedKnownView.as_view(), name="proposed-known"),
    path("known-findings/<int:number>/answer", style_views.KnownAnswerView.as_view(), name="known-answer"),
    path("find", views.FindView.as_view(), name="find"),
    path("overlaps", overlap_views.CatalogOverlapsView.as_view(), name="catalog-overlaps"),
    path("overlap-map", overlap_views.OverlapMapView.as_view(), name="overlap-map"),
    path("mix-ups", overlap_views.MixUpsView.as_view(), name="mix-ups"),
    path("rulings", overlap_views.RulingsView.as_view(), name="rulings"),
    path("rulings/<int:number>/answer", overlap_views.RulingAnswerView.as_view(), name="ruling-answer"),
    path("servers/<str:slug>/looks", look_views.LooksView.as_view(), name="looks"),
    path("servers/<str:slug>/timeline", views.TimelineView.as_view(), name="timeline"),
    path("servers/<str:slug>/life", views.LifeView.as_view(), name="life"),
    path("stand-in", views.StandInView.as_view(), name="stand-in"),
    path("by-digest/<str:digest>", views.ByDigestView.as_view(), name="by-digest"),
    path("suspensions", views.SuspensionsView.as_view(), name="suspensions"),
]
