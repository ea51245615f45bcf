"""Bringing up Django for the commands that run or administer a service."""

from __future__ import annotations

import os
from pathlib import Path

import django
from django.core.management import call_command


def prepare(data: Path) -> None:
    """Load Django over a data directory; it can be done for one directory in a process.

    What is written from now on is for its owner only.
    """
    os.umask(0o077)
    os.environ["TALLSHELF_DATA"] = str(data)
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tallshelf.service.settings")
    django.setup()


def migrate() -> None:
    """Bring the database's schema up to date, and what can be found with it."""
    from tallshelf.service.catalog import search
    from tallshelf.service.upgrading import upgrade

    call_command("migrate", verbosity=0, interactive=False)
    upgrade()
    if search.is_behind():
        search.rebuild()


def data_directory(given: str | None) -> Path:
    """Return the data directory: as given, or ``TALLSHELF_DATA``, or ``tallshelf-data`` here."""
    return Path(given or os.environ.get("TALLSHELF_DATA") or "tallshelf-data").resolve()
