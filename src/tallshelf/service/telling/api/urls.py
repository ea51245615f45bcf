from __future__ import annotations

from django.urls import path, re_path

from tallshelf.service.telling.api import views

urlpatterns = [
    path("events", views.EventsView.as_view(), name="events"),
    path("notices", views.NoticesView.as_view(), name="notices"),
    path("notices/read", views.NoticesReadView.as_view(), name="notices-read"),
]
feeds = [
    path("catalog.atom", views.FeedView.as_view(), name="catalog-feed"),
    re_path(
        r"^(?P<kind>servers|teams|kits)/(?P<name>[a-z0-9-]{1,64})\.atom$",
        views.FeedView.as_view(),
        name="feed",
    ),
]
