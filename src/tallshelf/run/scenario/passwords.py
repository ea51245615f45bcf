"""The made-up people have one password, which stands in the documentation: hashing it slowly would guard nothing."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from django.contrib.auth.hashers import PBKDF2PasswordHasher
from django.test.utils import override_settings


class _Quick(PBKDF2PasswordHasher):
    """As Django's own, which reads what it wrote, in a fiftieth of the time."""

    iterations = PBKDF2PasswordHasher.iterations // 50


@contextmanager
def known_to_all() -> Iterator[None]:
    """Let passwords that are chosen here be hashed quickly; those chosen later are hashed as everywhere."""
    with override_settings(PASSWORD_HASHERS=[f"{__name__}.{_Quick.__name__}"]):
        yield
