"""Where the judge draws its lines: the very entry or moment from which on something holds, and who has part in what."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from msgspec.structs import replace

from tallshelf.core.entitlement.part import handed_in, why_part, why_part_in_server
from tallshelf.core.entitlement.progress import objecting_until
from tallshelf.core.entitlement.records import Membership, Person
from tallshelf.core.entitlement.state import _KEPT_STEPS as KEPT_STEPS
from tallshelf.core.entitlement.state import State
from tallshelf.core.routing.route import Told
from tests.core.company import NOW, Company, publication, signing

_START = datetime(2026, 6, 1, tzinfo=UTC)


def published(company: Company) -> None:
    company.submit()
    company.do("signed-off", "ines", **signing())
    company.do("release-published", "tomas", **publication())


@pytest.mark.parametrize(("since", "until", "asked", "was"), [
    (5, None, 9, True), (5, 9, 8, True), (5, 9, 9, False), (5, 9, 12, False), (5, 6, 1, True),
])  # fmt: skip
def test_who_left_a_team_was_in_it_until_then(since, until, asked, was):
    person = Person("nils", "reader", True, (Membership("berths", since, until),))
    assert person.was_in("berths", asked) is was
    assert not person.was_in("tides", asked)
    assert person.teams == (frozenset() if until else {"berths"})


@pytest.mark.parametrize(("seconds", "stands"), [(-1, False), (0, True), (3_599, True), (3_600, False)])
def test_a_deputy_stands_in_from_the_first_moment_until_the_last(seconds, stands):
    company = Company()
    begins = _START + timedelta(days=1)
    ends = begins + timedelta(hours=1)
    company.do(
        "deputy-named", "ines", deputy_id=1, username="ines", deputy="rosa",
        since=begins.isoformat(), until=ends.isoformat(),
    )  # fmt: skip
    found = company.state.standing_in("ines", begins + timedelta(seconds=seconds))
    assert [one.deputy for one in found] == (["rosa"] if stands else [])


def test_what_was_handed_in_before_the_base_was_published_is_no_part_of_what_comes_after():
    company = Company()
    published(company)
    company.submit(number=2, version="1.1.0", base="quay@1.0.0")
    request = company.state.requests[2]
    acts = handed_in(company.state, request)
    assert [act.request for act in acts] == [2]
    assert why_part(company.state, request, "tomas", team_barred=False)
    assert why_part(company.state, request, "ines", team_barred=True) is None
    assert "owner team berths" in str(why_part(company.state, request, "mara", team_barred=True))
    assert why_part(company.state, request, "mara", team_barred=False) is None


def test_the_same_bytes_and_the_same_version_are_part_of_it_whatever_came_between():
    company = Company()
    company.submit(number=1)
    company.do("request-taken-back", "tomas", server="quay", version="1.0.0", request=1)
    again = company.submission(2, "1.0.1") | {"snapshot_digest": "s1"}
    again["assessed"] = company.assessed("s1")
    company.do("release-submitted", "mara", **again)
    acts = handed_in(company.state, company.state.requests[2])
    assert {act.request for act in acts} == {1, 2}
    assert why_part(company.state, company.state.requests[2], "tomas", team_barred=False)


def test_who_owns_a_server_has_part_in_it_while_something_is_in_use_or_asked_for():
    company = Company()
    assert "owner team berths" in str(why_part_in_server(company.state, "quay", "mara"))
    published(company)
    assert why_part_in_server(company.state, "quay", "mara")
    assert why_part_in_server(company.state, "quay", "ines") is None
    assert why_part_in_server(company.state, "nowhere", "mara") is None
    company.submit(number=2, version="1.1.0", base="quay@1.0.0")
    assert "part in request 2" in str(why_part_in_server(company.state, "quay", "tomas"))


def test_teams_may_object_for_as_long_as_the_route_says_from_when_it_began():
    company = Company()
    company.submit()
    request = company.state.requests[1]
    assert objecting_until(request) is None
    told = replace(request, route=replace(request.route, tells=(Told("berths", 48, ()),)))
    begun = datetime.fromisoformat(NOW)
    assert objecting_until(told) == begun + timedelta(hours=48)
    later = replace(told, asked_at=begun + timedelta(hours=5))
    assert objecting_until(later) == begun + timedelta(hours=53)


def test_taking_entries_back_leaves_nothing_of_them_and_keyed_is_never_ahead():
    company = Company()
    state = company.state
    state.keeps = True
    before = (state.number, state.head, dict(state.teams))
    company.machine("team-added", team="crew", title="Crew")
    company.machine("team-added", team="mates", title="Mates")
    state.keyed = state.number
    assert state.rewind() and "mates" not in state.teams and state.keyed == 0
    state.keyed = state.number - 1
    assert state.rewind() and state.keyed == state.number
    assert (state.number, state.head, dict(state.teams)) == before
    assert not State().rewind()


def test_as_many_entries_are_taken_back_as_are_kept_and_none_more():
    state, more = State(), 5
    for number in range(1, KEPT_STEPS + more + 1):
        state.begin(number, f"h{number}")
        state.put(state.teams, f"t{number}", number)
        state.put(state.teams, "last", number)
    taken_back = 0
    while state.rewind():
        taken_back += 1
    assert (taken_back, state.number, state.head) == (KEPT_STEPS, more, f"h{more}")
    assert dict(state.teams) == {**{f"t{number}": number for number in range(1, more + 1)}, "last": more}


@pytest.mark.parametrize(
    ("version", "why"), [("2026.6.1", None), ("1.0", "conflict"), ("1.0.0-rc.1", "conflict")]
)
def test_a_version_is_one_of_its_servers_scheme(version, why):
    company = Company()
    company.machine("server-enrolled", server="tide", team="berths", data_class="internal", scheme="calendar")
    submission = company.submission(1, version) | {"server": "tide"}
    submission["assessed"] = company.assessed_of("tide", "s1")
    assert company.why("release-submitted", "tomas", **submission) == why


def test_a_server_that_has_nothing_in_use_is_the_part_of_those_of_its_team_since_it_began():
    company = Company()
    company.submit()
    company.do("request-taken-back", "tomas", server="quay", version="1.0.0", request=1)
    change = {"username": "mara", "role": "curator", "teams": [], "active": True}
    company.do("person-changed", "oskar", **change)
    assert "owner team berths" in str(why_part_in_server(company.state, "quay", "mara"))
    published(second := Company())
    second.do("person-changed", "oskar", **change)
    assert "owner team berths" in str(why_part_in_server(second.state, "quay", "mara"))
    again = Company()
    again.do("person-changed", "oskar", **change)
    published(again)
    assert why_part_in_server(again.state, "quay", "mara") is None


def test_an_older_entry_that_does_not_say_whom_a_desk_bars_bars_the_owners_and_is_counted():
    company = Company()
    company.machine("desk-added", desk="tower")
    company.machine("desk-added", desk="gate", owner_team_excluded=False)
    assert company.state.desks["tower"].owner_team_excluded
    assert not company.state.desks["gate"].owner_team_excluded
    assert company.state.not_told == {"whether a desk bars the owner team": 1}
