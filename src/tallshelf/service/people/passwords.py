"""Which passwords may be chosen, and whether anybody signs in by one at all."""

from __future__ import annotations

import re
from typing import Any

from django.conf import settings
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError

from tallshelf.core.errors import BadArgument, Denied
from tallshelf.service.people.models import Person

_LEAST_OF_ONES_OWN = 8
_SHORTEST_WORD = 4


def choose(person: Person, password: str) -> None:
    """Give an account, not yet saved, the password; raise `BadArgument` when it is too easy to guess."""
    try:
        validate_password(password, person)
    except ValidationError as fault:
        raise BadArgument(" ".join(fault.messages), remedy="Choose a longer, less usual one.") from None
    person.set_password(password)


def need_passwords() -> None:
    """Raise `Denied` where people sign in at the issuer only."""
    if not settings.CONFIG.passwords:
        raise Denied(
            "nobody has a password here", remedy=f"Sign in by {settings.CONFIG.oidc_label} at /oidc/begin."
        )


class NoWordOfThisPlace:
    """Refuses a password that is little more than the service's name or address (a Django validator)."""

    def validate(self, password: str, user: Any = None) -> None:
        rest = re.sub(r"[\W_]", "", password.casefold())
        for word in sorted(_words(), key=len, reverse=True):
            rest = rest.replace(word, "")
        if len(rest) < _LEAST_OF_ONES_OWN:
            raise ValidationError("This password is too close to the name of this service.")

    def get_help_text(self) -> str:
        return "Your password can't be the name of this service with a little added."


def _words() -> set[str]:
    labels = (label for host in settings.CONFIG.allowed_hosts for label in re.split(r"\W+", host.casefold()))
    return {"tallshelf", "tall", "shelf"} | {label for label in labels if len(label) >= _SHORTEST_WORD}
