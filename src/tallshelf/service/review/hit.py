"""What members of a team that a request hits see of it: what reaches their kits, and no more."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from typing import Any

from tallshelf.core.reports import change_from, changes_summary
from tallshelf.core.routing import team_of
from tallshelf.service.kits.models import HeldItem
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.permissions import reads_at, refusal
from tallshelf.service.review.models import Request

_WHOLE = "server"


def only_items(actor: Actor, request: Request) -> frozenset[str] | None:
    """Return the items to which what an actor sees of a request is restricted, or None where they see it whole.

    Only what is not published yet is restricted: to what kits of their teams hold of the server.
    """
    own = refusal(actor, "see-unpublished", request.server.team.slug) is None
    seated = [desk for desk in request.desks if not team_of(desk)]
    if request.kind != "publish" or own or reads_at(actor, seated):
        return None
    rows = HeldItem.objects.filter(server=request.server, kit__team__slug__in=asked_teams(actor, request))
    return frozenset(rows.values_list("item", flat=True))


def asked_teams(actor: Actor, request: Request) -> frozenset[str]:
    """Return the teams for which an actor sees a request: their own, and those that they stand in for."""
    return frozenset(team_of(desk) for desk in request.desks if team_of(desk) and reads_at(actor, [desk]))


def restricted(shown: Mapping[str, Any], items: Collection[str], teams: Collection[str]) -> dict[str, Any]:
    """Return a request as it is shown, without what is said of other items and to other teams."""
    theirs = {*items, _WHOLE}
    document = dict(shown["assessment"])
    changes = document["changes"]
    if changes is not None:
        changes = [change for change in changes if change["item"] in theirs]
        document["changes"] = changes
    document["findings"] = [finding for finding in document["findings"] if finding["item"] in theirs]
    if document.get("overlaps"):
        document["overlaps"] = [overlap for overlap in document["overlaps"] if overlap["a"]["item"] in theirs]
    return {
        **shown,
        "assessment": document,
        "changes_summary": None
        if changes is None
        else changes_summary([change_from(change) for change in changes]),
        "comments": [comment for comment in shown["comments"] if comment["item"] in ("", *theirs)],
        "kits": [kit for kit in shown["kits"] if kit["team"] in teams],
        "last_look": None,
        "restricted_to": sorted(items),
    }
