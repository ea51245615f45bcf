"""Signing in by a password, for Django: only by one that the ledger says was set."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.backends import ModelBackend

from tallshelf.service.people.entries import password_is_told
from tallshelf.service.people.models import Person


class PasswordBackend(ModelBackend):
    """Django's own, which looks at the ledger as well: a hash that was written past the service signs nobody in."""

    def authenticate(self, request: Any, **credentials: Any) -> Person | None:  # type: ignore[override]
        person = super().authenticate(request, **credentials)
        return person if isinstance(person, Person) and password_is_told(person) else None
