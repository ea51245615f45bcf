"""Who is behind a request, as the value that actions and queries take."""

from __future__ import annotations

from typing import cast

from rest_framework.request import Request

from tallshelf.service.people.actor import Actor


def actor_of(request: Request) -> Actor:
    """Return the actor that authentication put on a request."""
    return cast(Actor, request.user)
