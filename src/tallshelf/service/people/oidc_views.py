"""Going to the issuer and coming back, in the browser; not a part of the API."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.views.decorators.http import require_GET

from tallshelf.core.errors import Denied, ShelfError
from tallshelf.service.people import oidc, sessions
from tallshelf.service.web.logs import note
from tallshelf.service.web.rate_limit import SignIns

_KEPT = "oidc-attempt"


@require_GET
def begin(request: HttpRequest) -> HttpResponse:
    """Send the browser to the issuer."""
    if not SignIns().allow_request(request, None):  # each attempt is kept in a session
        return _refused(request, Denied("too many attempts in a short time", remedy="Wait a minute."), 429)
    try:
        address, attempt = oidc.begin(_back(request))
    except ShelfError as fault:
        return _refused(request, fault)
    request.session[_KEPT] = attempt.kept()
    return HttpResponseRedirect(address)


@require_GET
def back(request: HttpRequest) -> HttpResponse:
    """Sign in whom the issuer vouches for."""
    kept = request.session.pop(_KEPT, None)
    asked = request.GET
    try:
        person = oidc.finish(kept, asked.get("state", ""), asked.get("code", ""), _back(request))
    except ShelfError as fault:
        return _refused(request, fault)
    note(request, by=person.username)
    sessions.sign_in(request, person)
    return HttpResponseRedirect("/")


def _back(request: HttpRequest) -> str:
    return request.build_absolute_uri(reverse("oidc-back"))


def _refused(request: HttpRequest, fault: ShelfError, status: int = 403) -> HttpResponse:
    note(request, problem=fault.code)
    text = f"Signing in did not work: {fault.reason}\n{fault.remedy or ''}"
    return HttpResponse(text, status=status, content_type="text/plain; charset=utf-8")
