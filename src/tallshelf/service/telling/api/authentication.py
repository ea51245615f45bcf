"""Basic authentication for readers of feeds: the user name, and a token as the password (RFC 7617)."""

from __future__ import annotations

import base64
import binascii
from typing import Any

from rest_framework.authentication import BaseAuthentication

from tallshelf.core.errors import SignInNeeded
from tallshelf.service.people.actions import actor_by_token
from tallshelf.service.people.actor import Actor
from tallshelf.service.web.logs import note

_REMEDY = "Give your user name, and as the password a token with the scope read."


class FeedAuthentication(BaseAuthentication):
    """``Authorization: Basic``; no address of a feed holds a secret."""

    def authenticate(self, request: Any) -> tuple[Any, Actor] | None:
        kind, _, given = request.META.get("HTTP_AUTHORIZATION", "").partition(" ")
        if kind.lower() != "basic":
            return None
        try:
            name, _, secret = base64.b64decode(given.strip(), validate=True).decode("utf-8").partition(":")
        except (binascii.Error, UnicodeDecodeError):
            raise SignInNeeded("the user name and token cannot be read", remedy=_REMEDY) from None
        actor = actor_by_token(secret, acting=False)
        if actor is None or actor.username != name:
            raise SignInNeeded("the user name or token is not right, or the token ended", remedy=_REMEDY)
        note(request, by=actor.username)
        return actor, actor

    def authenticate_header(self, request: Any) -> str:
        return 'Basic realm="Tall Shelf", charset="UTF-8"'
