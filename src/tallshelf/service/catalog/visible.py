"""Who may see a release, for every entrance alike."""

from __future__ import annotations

from tallshelf.service.catalog.models import Release
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import reads_at, refusal

PUBLIC_STATES = ("published", "deprecated", "withdrawn")


def may_see(actor: Actor, release: Release) -> bool:
    """Whether an actor may see a release: public, of an own team, or asked at an own desk."""
    return (
        release.state in PUBLIC_STATES
        or refusal(actor, "see-unpublished", release.server.team.slug) is None
        or reads_at(actor, release.desks)
    )
