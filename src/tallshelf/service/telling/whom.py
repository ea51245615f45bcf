"""Whom an act tells, and why: whoever it hits, and was not the one who did it.

Owners of a server are told what became of it and of their requests; owners of a kit what hits it, and that it moved; a
desk what it is asked, and what is overdue there.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

from tallshelf.core.entitlement import objecting_until, stands
from tallshelf.core.kits import Hit, ended, hits
from tallshelf.core.ledger.events import Event
from tallshelf.core.reports import change_from
from tallshelf.core.routing import team_of
from tallshelf.service import clock
from tallshelf.service.catalog.models import Server, UserNote
from tallshelf.service.kits.models import StoredKit
from tallshelf.service.kits.queries import holders
from tallshelf.service.ledger import memory
from tallshelf.service.review.models import Comment, FollowUp, Request

_MOST_KITS = 3
Body = Mapping[str, Any]


@dataclass
class Whom:
    """Whom an act tells, each with why: teams, single people, and whoever follows a thing that it is about.

    ``tasks`` are people whose inbox shows it as something to do. ``owner`` is the team of the server or kit.
    """

    teams: dict[str, str] = field(default_factory=dict)
    people: dict[str, str] = field(default_factory=dict)
    tasks: dict[str, str] = field(default_factory=dict)
    things: set[str] = field(default_factory=set)
    owner: str = ""


def whom(event: Event, body: Body) -> Whom:
    """Return whom an entry that is told tells."""
    found = Whom(things={"catalog"})
    if body.get("server"):
        found.things.add(f"server:{body['server']}")
        found.owner = _owner_of(body["server"])
    if body.get("kit"):
        found.things.add(f"kit:{body['kit']}")
        found.owner = body.get("team") or _keeper_of(body["kit"])
    tells = _TELLS.get(event)
    if tells is not None:
        tells(found, body)
    found.things |= {f"team:{team}" for team in {found.owner, *found.teams} if team}
    return found


def _owner_of(slug: str) -> str:
    return Server.objects.filter(slug=slug).values_list("team__slug", flat=True).first() or ""


def _keeper_of(name: str) -> str:
    return StoredKit.objects.filter(name=name).values_list("team__slug", flat=True).first() or ""


def _owner(whom: Whom, body: Body) -> None:
    """Tell the owner team of the server that it is about."""
    if whom.owner:
        whom.teams[whom.owner] = f"your team owns {body['server']}"


def _keepers(whom: Whom, body: Body) -> None:
    """Tell the owner team of a kit."""
    if whom.owner:
        whom.teams[whom.owner] = f"your team keeps {body['kit']}"


def _ends(whom: Whom, body: Body) -> None:
    """Tell who holds what ends, or is stopped, and the owner team."""
    _owner(whom, body)
    _hit(whom, ended(_holders(body), body.get("version", ""), body.get("item", "")))


def _holding(whom: Whom, body: Body) -> None:
    """Tell who holds something of what may be used again, is otherwise now or ends soon, and the owner team."""
    _owner(whom, body)
    item, version, by_team = body.get("item", ""), body.get("version", ""), dict[str, list[str]]()
    for holder in _holders(body):
        if item in ("", *holder.held) and (not version or version in holder.held.values()):
            by_team.setdefault(holder.team, []).append(holder.kit)
            whom.things.add(f"kit:{holder.kit}")
    whom.teams.update({team: f"held by {', '.join(kits[:_MOST_KITS])}" for team, kits in by_team.items()})


def _published(whom: Whom, body: Body) -> None:
    """Tell whom a release hits, and the owner team."""
    _owner(whom, body)
    request = Request.objects.select_related("assessment").filter(pk=body["request"]).first()
    changes = (request.assessment.document["changes"] or ()) if request else ()
    holding = _holders(body) if changes else []
    if holding:
        _hit(whom, hits([change_from(change) for change in changes], holding))


def _holders(body: Body) -> list[Any]:
    server = Server.objects.filter(slug=body["server"]).first()
    return holders(server) if server else []


def _hit(whom: Whom, those: Iterable[Hit]) -> None:
    by_team: dict[str, list[Hit]] = {}
    for one in those:
        by_team.setdefault(one.team, []).append(one)
        whom.things.add(f"kit:{one.kit}")
    whom.teams.update({team: _hit_words(hit) for team, hit in by_team.items()})


def _hit_words(those: list[Hit]) -> str:
    named = ", ".join(f"{hit.kit} ({hit.word})" for hit in those[:_MOST_KITS])
    more = f" and {len(those) - _MOST_KITS} more" if len(those) > _MOST_KITS else ""
    return f"it hits your kit{'' if len(those) == 1 else 's'} {named}{more}"


def _asked(whom: Whom, body: Body) -> None:
    """Tell the desks of the step that a request begins with, and the teams that may object."""
    _ask(whom, body["request"])
    with memory.told() as state:
        told = state.requests.get(body["request"])
        until = objecting_until(told) if told is not None else None
        tells = told.route.tells if told is not None and told.route is not None else ()
    for one in tells:
        whom.teams[one.team] = f"it would hit your kits; you may object until {until:%Y-%m-%d %H:%M} UTC"


def _asked_at(desk: str) -> str:
    team = team_of(desk)
    return f"your team {team} is asked" if team else f"the desk {desk} is asked"


def _declined(whom: Whom, body: Body) -> None:
    """Tell the owner team; of the use of a server, the team that asked for its kit."""
    _owner(whom, body)
    asked = Request.objects.filter(pk=body["request"], kind="use").first()
    if asked is not None:
        whom.teams[asked.terms["team"]] = f"your team asked for {asked.terms['kit']}"


def _answered(whom: Whom, body: Body) -> None:
    """Tell those who asked, and the desks of the next step where this answer ended one."""
    _declined(whom, body)
    _ask(whom, body["request"], after=body["desk"])


def _ask(whom: Whom, number: int, after: str = "") -> None:
    with memory.told() as state:
        told = state.requests.get(number)
        steps = stands(state, told, clock.now()) if told is not None else ()
        step = next((at for at, desks in enumerate(steps) if not all(desk.done for desk in desks)), None)
        if step is None or (
            after and (step == 0 or all(asked_desk.seat.desk != after for asked_desk in steps[step - 1]))
        ):
            return
        for desk in steps[step]:
            for username in desk.places:
                whom.tasks.setdefault(username, _asked_at(desk.seat.desk))


def _overdue(whom: Whom, body: Body) -> None:
    """Tell those who may still sign at a desk."""
    with memory.told() as state:
        told = state.requests.get(body["request"])
        for step in stands(state, told, clock.now()) if told is not None else ():
            for desk in step:
                if desk.seat.desk == body["desk"] and not desk.done:
                    whom.tasks |= dict.fromkeys(desk.places, f"the desk {body['desk']} is asked")


def _escalated(whom: Whom, body: Body) -> None:
    if body["lead"]:
        whom.people[body["lead"]] = f"you lead the desk {body['desk']}"
    _owner(whom, body)


def _commented(whom: Whom, body: Body) -> None:
    """Tell the owner team; of an answer who asked."""
    _owner(whom, body)
    asked = Comment.objects.select_related("person").filter(pk=body["answers"] or 0).first()
    if asked is not None:
        whom.people[asked.person.username] = "you asked"


def _follow_up(whom: Whom, body: Body) -> None:
    due = FollowUp.objects.select_related("owner").filter(pk=body["follow_up"]).first()
    if due is not None:
        whom.people[due.owner.username] = "it is yours to do"
    _owner(whom, body)


def _note_answered(whom: Whom, body: Body) -> None:
    left = UserNote.objects.select_related("by").filter(pk=body["user_note"]).first()
    if left is not None:
        whom.people[left.by.username] = "you left it"


_TELLS: dict[str, Callable[[Whom, Body], None]] = {
    Event.RELEASE_SUBMITTED: _asked,
    Event.SNAPSHOT_REPLACED: _asked,
    Event.REQUEST_OPENED: _asked,
    Event.SIGNED_OFF: _answered,
    Event.REQUEST_DECLINED: _declined,
    Event.RELEASE_DECLINED: _owner,
    Event.COMMENTED: _commented,
    Event.DESK_REMINDED: _overdue,
    Event.REQUEST_RISEN: _escalated,
    Event.FOLLOW_UP_DUE: _follow_up,
    Event.WAIVER_DUE: _owner,
    Event.RELEASE_PUBLISHED: _published,
    Event.RELEASE_DEPRECATED: _ends,
    Event.ITEM_DEPRECATED: _ends,
    Event.ITEM_KEPT: _holding,
    Event.LAST_DAY_NEARS: _holding,
    Event.RELEASE_WITHDRAWN: _ends,
    Event.SUSPENDED: _ends,
    Event.SUSPENSION_LIFTED: _holding,
    Event.DRIFT_SEEN: _holding,
    Event.DRIFT_OVER: _holding,
    Event.ITEM_PURGED: _holding,
    Event.DATA_CLASS_CHANGED: _holding,
    Event.NOTE_LEFT: _owner,
    Event.NOTE_ANSWERED: _note_answered,
    Event.KIT_PUT: _keepers,
    Event.KIT_MOVED: _keepers,
    Event.KIT_DROPPED: _keepers,
}
"""By event, whom it tells beside its followers."""
