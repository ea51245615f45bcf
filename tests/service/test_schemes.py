"""Calendar versions in the service: enrolled, asked for, declared to break, and held against it."""

from __future__ import annotations

import copy

import pytest

from tallshelf.service.catalog.models import Release, Server
from tallshelf.service.verifying import verify
from tests.service.conftest import agree_to, submission, work

RELEASES = "servers/berth-planner/releases"


def breaking_body(version, **more):
    body = copy.deepcopy(submission("1.4.2")) | {"version": version, **more}
    body["snapshot"]["tools"][0]["inputSchema"]["properties"].pop("basin")
    body["snapshot"]["tools"][0]["inputSchema"]["additionalProperties"] = False
    return body


@pytest.fixture
def calendar(api, published):
    """The berth planner, published as 1.4.2 and then numbered by the calendar, by request."""
    published("1.4.2")
    body = {"kind": "version-scheme", "server": "berth-planner", "reason": "monthly", "scheme": "calendar"}
    status, asked = api("tomas").post("requests", body)
    assert (status, asked["terms"]["scheme_before"]) == (201, "semver"), asked
    assert api("tomas").post("requests", body)[1]["id"] == asked["id"]
    return asked


def agreed(api, asked):
    for who in ("ines", "oskar", "runa", "kari", "jonas"):
        now = api("ines").get(f"requests/{asked['id']}")[1]
        if now["state"] == "open":
            api(who).post(f"requests/{asked['id']}/sign-offs", agree_to(now))
    return api("ines").get(f"requests/{asked['id']}")[1]


def test_the_scheme_changes_when_another_person_agrees(api, calendar):
    assert api("tomas").get("servers/berth-planner")[1]["scheme"] == "semver"
    refused = api("tomas").post(f"requests/{calendar['id']}/sign-offs", agree_to(calendar))
    assert refused[0] in (403, 409)
    assert agreed(api, calendar)["state"] == "done"
    assert api("tomas").get("servers/berth-planner")[1]["scheme"] == "calendar"
    assert api("tomas").call("PATCH", "servers/berth-planner", {"scheme": "semver"})[0] in (400, 422, 200)
    assert Server.objects.get(slug="berth-planner").scheme == "calendar"


def test_open_requests_rest_on_the_scheme(api, calendar, submitted):
    waiting = submitted("1.5.0")
    agreed(api, calendar)
    work()
    waiting.refresh_from_db()
    assert waiting.assessment.document["next_version"]["scheme"] == "calendar"


def test_what_breaks_is_declared_to(api, calendar):
    agreed(api, calendar)
    tomas = api("tomas")
    assert tomas.post(RELEASES, breaking_body("2.0.0-rc.1"))[0] in (400, 422)
    status, quiet = tomas.post(RELEASES, breaking_body("2026.11.3.1"))
    assert status == 201 and quiet["assessment"]["next_version"]["breaks"]
    assert "version-too-low" in [one["gate"] for one in quiet["assessment"]["gates"]]
    assert any("--breaking" in one for one in quiet["assessment"]["because"])
    told = breaking_body("2026.11.3.1", breaking=True)
    assert tomas.post(RELEASES, told)[0] == 409, "the declaration is part of what is agreed to"
    status, mended = tomas.post(RELEASES, {**told, "request": quiet["id"]})
    assert mended["release_digest"] != quiet["release_digest"]
    assert "version-too-low" not in [one["gate"] for one in mended["assessment"]["gates"]]
    shown = api("ines").get(f"{RELEASES}/2026.11.3.1")[1]
    assert shown["breaking"] is True
    compared = api("ines").get("comparison?old=berth-planner@1.4.2&new=berth-planner@2026.11.3.1")[1]
    assert compared["next_version"]["is_honest"] and compared["next_version"]["scheme"] == "calendar"


def test_an_edited_declaration_is_noticed(api, calendar):
    agreed(api, calendar)
    api("tomas").post(RELEASES, breaking_body("2026.11.3.1", breaking=True))
    assert verify().holds
    Release.objects.filter(version="2026.11.3.1").update(breaking=False)
    assert not verify().holds
    Release.objects.filter(version="2026.11.3.1").update(breaking=True)
    Server.objects.filter(slug="berth-planner").update(scheme="semver")
    assert not verify().holds


def test_semver_declares_by_its_number(api, published):
    published("1.4.2")
    status, problem = api("tomas").post(RELEASES, breaking_body("2.0.0", breaking=True))
    assert status in (400, 422) and "major version" in problem["detail"]
    assert api("tomas").post(RELEASES, breaking_body("2026.11.3.1"))[0] in (400, 422)


def test_a_server_is_enrolled_with_its_scheme(api, company):
    body = {"slug": "tide-log", "title": "Tides", "team": "berths", "contact": "c", "scheme": "calendar"}
    assert api("tomas").post("servers", body)[1]["scheme"] == "calendar"
    assert api("tomas").post("servers", {**body, "slug": "tides", "scheme": "roman"})[0] in (400, 422)
    first = submission("1.4.2") | {"version": "2026.01.05"}
    status, made = api("tomas").post("servers/tide-log/releases", first)
    assert status == 201, made
    assert api("tomas").get("servers/tide-log/releases/2026.01.05")[0] == 200
