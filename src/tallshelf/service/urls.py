"""Every address of the service."""

from __future__ import annotations

from django.urls import include, path, re_path

from tallshelf.service.people import oidc_views
from tallshelf.service.telling.api.urls import feeds
from tallshelf.service.web import console, health, metrics, openapi_view, problem_pages

urlpatterns = [
    path("health/live", health.live, name="live"),
    path("health/ready", health.ready, name="ready"),
    path("oidc/begin", oidc_views.begin, name="oidc-begin"),
    path("oidc/back", oidc_views.back, name="oidc-back"),
    path("problems", problem_pages.index, name="problems"),
    path("problems/<str:code>", problem_pages.page, name="problem"),
    path("metrics", metrics.MetricsView.as_view(), name="metrics"),
    path("api/v1/openapi.json", openapi_view.document, name="openapi"),
    path("api/v1/", include("tallshelf.service.people.api.urls")),
    path("api/v1/", include("tallshelf.service.ledger.api.urls")),
    path("api/v1/", include("tallshelf.service.catalog.api.urls")),
    path("api/v1/", include("tallshelf.service.kits.api.urls")),
    path("api/v1/", include("tallshelf.service.review.api.urls")),
    path("api/v1/", include("tallshelf.service.telling.api.urls")),
    path("feeds/", include(feeds)),
    re_path(r"^(?:api|feeds)/", console.no_such_address, name="no-such-address"),
    re_path(r"^(?!static/).*$", console.page, name="console"),
]

handler400 = "tallshelf.service.web.problems.refused"
handler500 = "tallshelf.service.web.problems.fault"
