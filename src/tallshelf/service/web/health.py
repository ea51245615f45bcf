"""Health for whoever keeps the service running."""

from __future__ import annotations

from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, JsonResponse
from django.views.decorators.http import require_safe

from tallshelf.service.unwritten import unavailable, why_not_writable


@require_safe
def live(request: HttpRequest) -> JsonResponse:
    """The process answers."""
    return JsonResponse({"live": True})


@require_safe
def ready(request: HttpRequest) -> JsonResponse:
    """The database answers, can be written, and its schema is current; 503 otherwise, with the reason."""
    try:
        executor = MigrationExecutor(connection)
        pending = executor.migration_plan(executor.loader.graph.leaf_nodes())
    except DatabaseError as fault:
        return _not_ready(unavailable(fault).reason)
    reason = "migrations are pending" if pending else why_not_writable()
    return _not_ready(reason) if reason else JsonResponse({"ready": True})


def _not_ready(reason: str) -> JsonResponse:
    answer = JsonResponse({"ready": False, "reason": reason}, status=503)
    answer["Retry-After"] = "5"
    return answer
