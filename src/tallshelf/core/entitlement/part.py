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


def handed_in(state: State, found: Request) -> list[HandedIn]:
    """Return the acts of handing in that a request rests on, under whatever number or request they were.

    All since the base was published, or since such an act was last carried out; and at any time those of
    this request, this version and these bytes.
    """
    since = _since(state, found)
    return [
        one
        for one in state.servers[found.server].handed_in
        if _concerns(one, found, since) and one.who[0] not in ("", "setup")
    ]


def _concerns(one: HandedIn, found: Request, since: int) -> bool:
    if one.request == found.number:
        return True
    if found.kind == "publish" and one.kind == "publish":
        same = one.version == found.version or (found.snapshot and one.snapshot == found.snapshot)
        return bool(same) or one.entry > since
    return one.kind == found.kind and one.entry > since


def _since(state: State, found: Request) -> int:
    """Return the entry after which what was handed in is part of a request."""
    if found.kind != "publish":
        asked = [one.request for one in state.servers[found.server].handed_in if one.kind == found.kind]
        return max((state.requests[one].done for one in asked if one in state.requests), default=0)
    _, _, version = (found.assessed.base or "").partition("@")
    base = state.releases.get((found.server, version))
    return base.published if base is not None else 0


def why_part(
    state: State,
    found: Request,
    username: str,
    *,
    team_barred: bool,
    acts: Sequence[HandedIn] | None = None,
) -> str | None:
    """Return why somebody has part in what a request asks for, or None when they have none.

    ``team_barred`` bars the owner team as well: whoever belonged to it at any moment since the earliest
    act of handing in. ``acts`` are those of `handed_in`, for who asks about many people.
    """
    acts = handed_in(state, found) if acts is None else acts
    if any(username in one.who for one in acts):
        return "nobody signs off what they submitted, or what was submitted by a token they made"
    if not team_barred:
        return None
    person = state.people.get(username)
    earliest = min((one.entry for one in acts), default=found.opened)
    server = state.servers[found.server]
    if person is not None and person.was_in(server.team, earliest):
        return f"members of the owner team {server.team} do not sign at this desk"
    return None


def why_part_in_server(state: State, slug: str, username: str) -> str | None:
    """Return why somebody has part in a server: in a live request of it, or as one of its owner team at any moment
    since what is in use of it was published.
    """
    server = state.servers.get(slug)
    if server is None:
        return None
    for found in live_requests(state, slug):
        why = why_part(state, found, username, team_barred=True)
        if why is not None:
            return f"{username} has part in request {found.number} of {slug}"
    person = state.people.get(username)
    there = (state.releases.get((slug, version)) for version in server.versions)
    since = max((one.published for one in there if one is not None and one.state == "published"), default=0)
    if person is not None and person.was_in(server.team, since):
        return f"members of the owner team {server.team} excuse nothing of {slug}"
    return None


def live_requests(state: State, slug: str) -> Iterator[Request]:
    """Yield the undecided requests of a server."""
    numbers = dict.fromkeys(one.request for one in state.servers[slug].handed_in)
    for number in numbers:
        found = state.requests.get(number)
        if found is not None and found.state in ("open", "sent-back", "agreed"):
            yield found
