"""Every address of the service."""

from __future__ import annotations

from django.urls import include, path, re_path
from drf_spectacular.views import SpectacularJSONAPIView
from rest_framework.permissions import AllowAny

from tallshelf.service.people import oidc_views
from tallshelf.service.web import console, health, metrics, openapi, problem_pages  # noqa: F401 - registers its schemes

urlpatterns = [
    path("health/live", health.live, name="live"),
    path("health/ready", health.ready, name="ready"),
    path("oidc/begin", oidc_views.begin, name="oidc-begin"),
    path("oidc/back", oidc_views.back, name="oidc-back"),
    path("problems", problem_pages.index, name="problems"),
    path("problems/<str:code>", problem_pages.page, name="problem"),
    path("metrics", metrics.MetricsView.as_view(), name="metrics"),
    path(
        "api/v1/openapi.json",
        SpectacularJSONAPIView.as_view(permission_classes=[AllowAny], authentication_classes=[]),
    ),
    path("api/v1/", include("tallshelf.service.people.api.urls")),
    path("api/v1/", include("tallshelf.service.ledger.api.urls")),
    path("api/v1/", include("tallshelf.service.catalog.api.urls")),
    path("api/v1/", include("tallshelf.service.review.api.urls")),
    re_path(r"^api/", console.no_such_address, name="no-such-address"),
    re_path(r"^(?!static/).*$", console.page, name="console"),
]
