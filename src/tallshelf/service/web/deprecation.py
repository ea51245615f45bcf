"""Saying over HTTP that a release is deprecated: ``Deprecation`` (RFC 9745) and ``Sunset`` (RFC 8594)."""

from __future__ import annotations

from django.utils.http import http_date
from rest_framework.response import Response

from tallshelf.service.catalog.models import Release


def with_deprecation(response: Response, release: Release) -> Response:
    """Add the headers to an answer about a deprecated release, with a link to what replaces it."""
    if release.state != "deprecated" or release.ended_at is None:
        return response
    response["Deprecation"] = f"@{int(release.ended_at.timestamp())}"
    if release.sunset_at is not None:
        response["Sunset"] = http_date(release.sunset_at.timestamp())
    if release.replacement:
        slug, _, version = release.replacement.partition("@")
        address = f"/api/v1/servers/{slug}/releases/{version or 'current'}"
        response["Link"] = f'<{address}>; rel="successor-version"'
    return response
