"""The digests under which an assessment names what it drew on, and by which it is seen that this moved."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from tallshelf.core.overlap import Ruling
from tallshelf.core.snapshot import digest


def server_digest(slug: str, team: str, data_class: str, scheme: str) -> str:
    """Return the digest under which an assessment names what the catalog says of the server."""
    return digest([slug, team, data_class, *([scheme] if scheme != "semver" else [])])


def waivers_digest(waivers: Iterable[tuple[str, datetime | None, Iterable[str]]]) -> str:
    """Return the digest under which an assessment names the waivers it used.

    Each is its id, the moment it ends, and the fingerprints of the findings it was granted on.
    """
    return digest(
        sorted([one, until.isoformat() if until else "", *sorted(on)] for one, until, on in waivers)
    )


def rulings_digest(rulings: Iterable[Ruling]) -> str:
    """Return the digest under which an assessment names the rulings it used."""
    return digest(sorted([*sorted(ruling.bases), ruling.word] for ruling in rulings))


def known_digest(known: Iterable[str]) -> str:
    """Return the digest under which an assessment names the known findings it used."""
    return digest(sorted(known))
