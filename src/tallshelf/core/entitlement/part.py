"""Part in it: who is behind what was handed in, and may therefore approve or excuse nothing of it.

This is the one home of the rule; whoever signs, grants, consents or publishes is held against it.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tallshelf.core.entitlement.records import Entry, HandedIn, Request
from tallshelf.core.entitlement.state import State


def behind(state: State, entry: Entry) -> tuple[str, ...]:
    """Return everybody behind an act: who did it, and who owns or made the token it was done by."""
    found = [entry.actor]
    number, seen = entry.token, set()
    while number is not None and number not in seen and number in state.tokens:
        seen.add(number)
        token = state.tokens[number]
        found += [token.owner, token.maker]
        number = token.parent
    return tuple(dict.fromkeys(found))


def handed_in(state: State, request: Request) -> list[HandedIn]:
    """Return the acts of handing in that a request rests on, under whatever number or request they were.

    All since the base was published, or since such an act was last carried out; and at any time those of
    this request, this version and these bytes.
    """
    since = _since(state, request)
    return [
        hand_in
        for hand_in in state.servers[request.server].handed_in
        if _concerns(hand_in, request, since) and hand_in.who[0] not in ("", "setup")
    ]


def _concerns(hand_in: HandedIn, request: Request, since: int) -> bool:
    if hand_in.request == request.number:
        return True
    if request.kind == "publish" and hand_in.kind == "publish":
        same = hand_in.version == request.version or (
            request.snapshot and hand_in.snapshot == request.snapshot
        )
        return bool(same) or hand_in.entry > since
    return hand_in.kind == request.kind and hand_in.entry > since


def _since(state: State, request: Request) -> int:
    """Return the entry after which what was handed in is part of a request."""
    if request.kind != "publish":
        asked = [
            hand_in.request
            for hand_in in state.servers[request.server].handed_in
            if hand_in.kind == request.kind
        ]
        return max((state.requests[one].done for one in asked if one in state.requests), default=0)
    _, _, version = (request.assessed.base or "").partition("@")
    base = state.releases.get((request.server, version))
    return base.published if base is not None else 0


def why_part(
    state: State,
    request: Request,
    username: str,
    *,
    team_barred: bool,
    acts: Sequence[HandedIn] | None = None,
) -> str | None:
    """Return why somebody has part in what a request asks for, or None when they have none.

    ``team_barred`` bars the owner team as well, and the team that asks for a use: whoever belonged to them at any
    moment since the earliest act of handing in. ``acts`` are those of `handed_in`, for who asks about many people.
    """
    acts = handed_in(state, request) if acts is None else acts
    if any(username in hand_in.who for hand_in in acts):
        return "nobody signs off what they submitted, or what was submitted by a token they made"
    if not team_barred:
        return None
    person = state.people.get(username)
    earliest = min((hand_in.entry for hand_in in acts), default=request.opened)
    if person is not None:
        for role, team in _sides(state, request):
            if person.was_in(team, earliest):
                return f"members of the {role} {team} do not sign at this desk"
    return None


def _sides(state: State, request: Request) -> Iterator[tuple[str, str]]:
    """Yield the teams that have something of a request, each with what it is to it."""
    yield "owner team", state.servers[request.server].team
    if request.kind == "use":
        yield "team that asks,", request.terms["team"]


def why_part_in_server(state: State, slug: str, username: str) -> str | None:
    """Return why somebody has part in a server: in a live request of it, or as one of its owner team at any moment
    since what is in use of it was published.
    """
    server = state.servers.get(slug)
    if server is None:
        return None
    for request in live_requests(state, slug):
        why = why_part(state, request, username, team_barred=True)
        if why is not None:
            return f"{username} has part in request {request.number} of {slug}"
    person = state.people.get(username)
    there = (state.releases.get((slug, version)) for version in server.versions)
    since = max(
        (release.published for release in there if release is not None and release.state == "published"),
        default=0,
    )
    if person is not None and person.was_in(server.team, since):
        return f"members of the owner team {server.team} excuse nothing of {slug}"
    return None


def live_requests(state: State, slug: str) -> Iterator[Request]:
    """Yield the undecided requests of a server."""
    numbers = dict.fromkeys(hand_in.request for hand_in in state.servers[slug].handed_in)
    for number in numbers:
        request = state.requests.get(number)
        if request is not None and request.state in ("open", "sent-back", "agreed"):
            yield request
