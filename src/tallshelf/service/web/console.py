"""The console's one page, and the answer to addresses that do not exist."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe

from tallshelf.core.errors import NotFound
from tallshelf.service.web.problems import problem


@require_safe
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """Serve the built console for every address that is not the API's."""
    index = settings.CONSOLE_DIR / "index.html"
    try:
        response = HttpResponse(index.read_bytes())
    except FileNotFoundError:
        return HttpResponse(
            "The console is not built. Run `make console`; the API works without it.\n",
            status=503,
            content_type="text/plain; charset=utf-8",
        )
    response["Cache-Control"] = "no-cache"
    return response


def no_such_address(request: HttpRequest) -> JsonResponse:
    """Answer unknown addresses of the API and of feeds with a problem document."""
    feed = request.path.startswith("/feeds/")
    remedy = "Feeds end in .atom, as /feeds/catalog.atom does." if feed else "See /api/v1/openapi.json."
    error = NotFound(f"there is no {request.path}", remedy=remedy)
    return JsonResponse(problem(error), status=404, content_type="application/problem+json")
