"""Comparisons over HTTP, with the kits that they hit: translate, never decide."""

from __future__ import annotations

from typing import cast

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from tallshelf.core.changes import next_version
from tallshelf.core.errors import BadArgument
from tallshelf.core.reports import comparison_document, hits_document
from tallshelf.core.snapshot import Scheme, is_of_scheme, parse_reference, snapshot_from
from tallshelf.service.catalog import queries as catalog
from tallshelf.service.catalog.api.serializers import UploadedComparison
from tallshelf.service.catalog.models import Release
from tallshelf.service.kits import queries
from tallshelf.service.people.permissions import require
from tallshelf.service.web.actor import actor_of
from tallshelf.service.web.body import validated_body
from tallshelf.service.web.endpoint import Endpoint
from tallshelf.service.web.openapi import component


class ComparisonView(Endpoint):
    """The comparison of any two releases."""

    @extend_schema(
        operation_id="compare_releases",
        parameters=[OpenApiParameter("old", required=True), OpenApiParameter("new", required=True)],
        responses={200: component("ReleaseComparison")},
    )
    def get(self, request: Request) -> Response:
        old, new = (release_named(request, side) for side in ("old", "new"))
        comparison = catalog.comparison(old, new)
        scheme = cast(Scheme, new.server.scheme)
        version = next_version(old.version, new.version, comparison, scheme=scheme, breaking=new.breaking)
        return Response(
            {
                **comparison_document(comparison, version),
                "kits": hits_document(queries.hits_of(new.server, comparison.changes)),
                "releases": {"old": str(old), "new": str(new)},
            }
        )

    @extend_schema(
        operation_id="compare_with_upload",
        request=UploadedComparison,
        responses={200: component("Comparison")},
    )
    def post(self, request: Request) -> Response:
        """Compare a release with a snapshot that is uploaded, storing nothing."""
        require(actor_of(request), "check")
        body = validated_body(UploadedComparison, request)
        place = parse_reference(body["old"])
        old = catalog.release(actor_of(request), place.server, place.version or "current")
        new = snapshot_from(body["snapshot"])
        declared, scheme = body["version"] or new.declared_version, cast(Scheme, old.server.scheme)
        comparison = catalog.comparison_with(old, new)
        version = next_version(
            old.version,
            declared if declared and is_of_scheme(declared, scheme) else None,
            comparison,
            scheme=scheme,
            breaking=body["breaking"],
        )
        kits = hits_document(queries.hits_of(old.server, comparison.changes))
        return Response({**comparison_document(comparison, version), "kits": kits})


def release_named(request: Request, side: str) -> Release:
    """Return the release that a query parameter names; raise `BadArgument` where it names a file."""
    place = parse_reference(request.query_params.get(side, ""))
    if place.file:
        raise BadArgument(f"{side} must name a release, such as berth-planner@1.4.2")
    return catalog.release(actor_of(request), place.server, place.version or "current")
