"""Metrics for Prometheus: requests (django-prometheus) and what the catalog holds."""

from __future__ import annotations

import os
from collections.abc import Iterator, Mapping
from typing import Any

from django.db.models import Count
from drf_spectacular.utils import extend_schema
from prometheus_client import CONTENT_TYPE_PLAIN_0_0_4, REGISTRY, CollectorRegistry, generate_latest
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.multiprocess import MultiProcessCollector
from prometheus_client.registry import Collector
from rest_framework.renderers import BaseRenderer
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf import __version__
from tallshelf.service import clock
from tallshelf.service.catalog.models import Release, Server, Suspension
from tallshelf.service.ledger.models import Entry
from tallshelf.service.people.permissions import require
from tallshelf.service.review import queries
from tallshelf.service.review.models import Request as ReviewRequest
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.render import FastJSON


class CatalogCollector(Collector):
    """What the catalog holds at the moment of the scrape, in a handful of counting queries."""

    def collect(self) -> Iterator[GaugeMetricFamily]:
        version = GaugeMetricFamily("tallshelf_version_info", "The version that runs.", labels=["version"])
        version.add_metric([__version__], 1)
        yield version
        yield GaugeMetricFamily("tallshelf_servers", "Servers on the shelf.", value=Server.objects.count())
        yield _by_state("tallshelf_releases", "Releases by state.", Release)
        yield _by_state("tallshelf_requests", "Requests by state.", ReviewRequest)
        yield GaugeMetricFamily(
            "tallshelf_requests_overdue",
            "Open requests past their due time.",
            value=queries.overdue(clock.now()),
        )
        yield GaugeMetricFamily(
            "tallshelf_suspensions",
            "Suspensions that stand.",
            value=Suspension.objects.filter(lifted_at=None).count(),
        )
        yield GaugeMetricFamily(
            "tallshelf_ledger_entries", "Entries of the ledger.", value=Entry.objects.count()
        )


def _by_state(name: str, words: str, model: type[Release] | type[ReviewRequest]) -> GaugeMetricFamily:
    family = GaugeMetricFamily(name, words, labels=["state"])
    for state, number in model.objects.values_list("state").annotate(Count("pk")).order_by("state"):
        family.add_metric([state], number)
    return family


_CATALOG = CatalogCollector()


class PlainText(BaseRenderer):
    """The text form of Prometheus."""

    media_type = "text/plain"
    format = "txt"

    def render(
        self,
        data: Any,
        accepted_media_type: str | None = None,
        renderer_context: Mapping[str, Any] | None = None,
    ) -> bytes:
        """Return the text; a problem document is written as JSON."""
        return data if isinstance(data, bytes) else FastJSON().render(data)


class MetricsView(Endpoint):
    """Metrics in the text form of Prometheus; any token with the scope `read` may scrape them."""

    renderer_classes = [PlainText]

    def perform_content_negotiation(self, request: Request, force: bool = False) -> tuple[Any, str]:
        """Answer in the one form there is, whatever is accepted: scrapers list many."""
        return PlainText(), PlainText.media_type

    @extend_schema(operation_id="metrics", responses={(200, "text/plain"): str})
    def get(self, request: Request) -> Response:
        require(actor_of(request), "see")
        return Response(_requests() + generate_latest(_only_catalog()), content_type=CONTENT_TYPE_PLAIN_0_0_4)


def _requests() -> bytes:
    """Return what was counted while answering, over all worker processes where there are several."""
    if "PROMETHEUS_MULTIPROC_DIR" not in os.environ:
        return generate_latest(REGISTRY)
    together = CollectorRegistry()
    MultiProcessCollector(together)  # type: ignore[no-untyped-call]
    return generate_latest(together)


def _only_catalog() -> CollectorRegistry:
    registry = CollectorRegistry()
    registry.register(_CATALOG)
    return registry
