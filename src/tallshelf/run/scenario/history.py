"""The history of the scenario, played through the same actions that users call."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from tallshelf.run.scenario.declarations import declared
from tallshelf.run.scenario.people import ACCOUNTS, DESKS, PASSWORD, TEAMS
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.people import actions as people
from tallshelf.service.people.actor import Actor
from tallshelf.service.people.models import Person
from tallshelf.service.people.queries import actor_for
from tallshelf.service.review import actions as review

_SERVERS: tuple[tuple[str, str, str, str, str, tuple[str, ...]], ...] = (
    ("tomas", "berth-planner", "Berth planner", "berths", "internal", ("planning", "harbour")),
    ("tomas", "tide-tables", "Tide tables", "berths", "public", ("harbour",)),
    ("mira", "crew-roster", "Crew roster", "crew", "confidential", ("planning", "people")),
    ("mira", "crew-certificates", "Crew certificates", "crew", "confidential", ("people",)),
    ("jonas", "fare-desk", "Fare desk", "ticketing", "public", ("passengers",)),
    ("jonas", "freight-manifest", "Freight manifest", "shore-freight", "internal", ("freight",)),
)


def actor(username: str) -> Actor:
    """Return one of the scenario's people as the actor of an act."""
    return actor_for(Person.objects.get(username=username), via="demo")


def add_people() -> None:
    """Add teams, desks and accounts."""
    for slug, title in TEAMS.items():
        people.add_team(people.SETUP, slug, title)
    for slug, title in DESKS.items():
        people.add_desk(people.SETUP, slug, title, owner_team_excluded=slug != "curators")
    for one in ACCOUNTS:
        password = None if one.role == "ci" else PASSWORD
        people.add_person(people.SETUP, one.username, one.name, one.role, password, one.teams)
        for desk in one.desks:
            people.seat_at_desk(people.SETUP, desk, one.username)


def play(urls: dict[str, str], say: Callable[[str], None]) -> None:
    """Enrol six servers and take ten releases to their states.

    ``urls`` holds the addresses of the servers that run over HTTP.
    """
    for who, slug, title, team, data_class, tags in _SERVERS:
        catalog.enrol_server(
            actor(who),
            slug,
            title=title,
            team=team,
            contact=f"{team}@pellam.example",
            source_link=f"https://code.pellam.example/{team}/{slug}",
            data_class=data_class,
            tags=tags,
        )
    say("enrolled six servers")
    _publish("tomas", "berth-planner", "1.4.1", urls)
    _publish("tomas", "berth-planner", "1.4.2", urls)
    catalog.retire_release(
        actor("ines"), "berth-planner", "1.4.1", "deprecate", "1.4.2 returns the depth as well"
    )
    _publish("tomas", "tide-tables", "1.1.0", urls)
    _publish("mira", "crew-roster", "2.0.0", urls)
    _publish("mira", "crew-roster", "2.1.0", urls)
    catalog.retire_release(
        actor("oskar"), "crew-roster", "2.0.0", "withdraw", "its watches ignored rest hours"
    )
    _publish("jonas", "fare-desk", "1.0.0", urls)
    _publish("jonas", "freight-manifest", "1.0.0", urls)
    catalog.suspend(
        actor("ines"), "freight-manifest", "adds consignments to closed sailings, see incident 4411"
    )
    say("published seven releases; deprecated, withdrew and suspended some")
    _submit("tomas", "berth-planner", "1.5.0", urls, "Ready for the new basins.")
    _submit("mira", "crew-certificates", "0.3.0", urls, "First release.")
    _agree(_submit("jonas", "fare-desk", "1.1.0", urls, "Vans can be quoted."))
    sent = _submit("jonas", "freight-manifest", "1.0.1", urls, "Weights in tonnes now.")
    review.sign_off(
        actor("oskar"),
        sent.pk,
        "send-back",
        release_digest=sent.release_digest,
        note="Kilograms became tonnes without a new field: old callers would load a thousand times too much.",
    )
    say("submitted four more: two in review, one agreed, one sent back")


def _submit(who: str, slug: str, version: str, urls: dict[str, str], note: str = "") -> Any:
    one = actor(who)
    launches = launch_records(slug, version, urls)
    submission = review.read_submission(one, declared(slug, version), version, launches, note)
    request, _ = review.submit(one, slug, submission)
    return request


def _agree(request: Any) -> Any:
    for reviewer in ("ines", "runa"):
        request.refresh_from_db()
        if request.state == "open":
            review.sign_off(actor(reviewer), request.pk, "agree", release_digest=request.release_digest)
    return request


def _publish(who: str, slug: str, version: str, urls: dict[str, str]) -> None:
    review.publish(actor(who), _agree(_submit(who, slug, version, urls)).pk)


def launch_records(slug: str, version: str, urls: dict[str, str]) -> list[dict[str, Any]]:
    """Return how the test and production environments run a server."""
    if slug in urls:
        return [{"environment": "production", "transport": "streamable-http", "url": urls[slug]}]
    package = {
        "name": f"pellam-{slug}",
        "version": version,
        "integrity": "sha256-" + "0123456789abcdef" * 4,
    }
    return [
        {
            "environment": "production",
            "transport": "stdio",
            "command": "python",
            "args": ["-m", "tallshelf.run.scenario.tool_server", slug, version],
            "package": package,
            "env": ["PELLAM_TOKEN"] if slug == "freight-manifest" else [],
        },
        {
            "environment": "test",
            "transport": "stdio",
            "command": "python",
            "args": ["-m", "tallshelf.run.scenario.tool_server", slug, version],
        },
    ]
