"""Bringing up Django for the commands that run or administer a service."""

from __future__ import annotations

import os
from pathlib import Path

import django
from django.core.management import call_command

from tallshelf.core.errors import NotFound


def prepare(data: Path) -> None:
    """Load Django over a data directory; it can be done for one directory in a process.

    What is written from now on is for its owner only.
    """
    from tallshelf.service import directory

    os.umask(0o077)
    directory.share(data)
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


def require_service(data: Path) -> None:
    """Raise `NotFound` where no service was set up in a directory."""
    if not (data / "tallshelf.sqlite3").exists():
        raise NotFound(
            f"there is no service in {data}",
            remedy="Name its data directory by --data, or make a service there: tallshelf admin init.",
        )


def data_directory(given: str | None) -> Path:
    """Return the data directory: as given, or ``TALLSHELF_DATA``, or ``tallshelf-data`` here."""
    return Path(given or os.environ.get("TALLSHELF_DATA") or "tallshelf-data").resolve()
