"""Health for whoever keeps the service running."""

from __future__ import annotations

from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, JsonResponse
from django.views.decorators.http import require_safe


@require_safe
def live(request: HttpRequest) -> JsonResponse:
    """The process answers."""
    return JsonResponse({"live": True})


@require_safe
def ready(request: HttpRequest) -> JsonResponse:
    """The database answers and its schema is current; 503 otherwise, with the reason."""
    try:
        executor = MigrationExecutor(connection)
        pending = executor.migration_plan(executor.loader.graph.leaf_nodes())
    except DatabaseError:
        return JsonResponse({"ready": False, "reason": "the database does not answer"}, status=503)
    if pending:
        return JsonResponse({"ready": False, "reason": "migrations are pending"}, status=503)
    return JsonResponse({"ready": True})
