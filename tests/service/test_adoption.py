"""Taking in what a company runs already."""

from __future__ import annotations

import io as streams
import json

import pytest

from tallshelf.cli.io import IO
from tallshelf.core.errors import BadDocument, Conflict
from tallshelf.run.adopt import adopt_directory
from tallshelf.run.scenario.declarations import declared
from tallshelf.service.catalog.models import Release, Server
from tallshelf.service.ledger.models import Entry
from tallshelf.service.ledger.queries import verify_ledger

OWNERS = """
[teams]
yard = "Yard"

[servers.crew-roster]
team = "crew"
contact = "crew@pellam.example"
data_class = "confidential"
tags = ["people"]

[[servers.crew-roster.launch]]
environment = "production"
transport = "streamable-http"
url = "https://roster.pellam.example/mcp"

[servers.certificates]
file = "crew-certificates.json"
team = "yard"
contact = "yard@pellam.example"
version = "0.3.0"
"""


class Folder:
    def __init__(self, path):
        self.path = path
        self.out, self.err = streams.StringIO(), streams.StringIO()
        for name, version in (("crew-roster", "2.1.0"), ("crew-certificates", "0.3.0")):
            (path / f"{name}.json").write_text(json.dumps(declared(name, version)), "utf-8")

    def adopt(self, owners: str = OWNERS) -> str:
        (self.path / "owners.toml").write_text(owners, "utf-8")
        self.out = streams.StringIO()
        assert adopt_directory(self.path, IO(self.out, self.err, {})) == 0
        return self.out.getvalue()


@pytest.fixture
def folder(company, tmp_path):
    return Folder(tmp_path)


def test_servers_are_published_as_adopted_and_their_findings_are_known_but_for_safety(folder, api):
    said = folder.adopt()
    assert "Adopted 2 servers, recorded as adopted, not reviewed." in said
    assert "certificates@0.3.0   3       1" in said
    row = api("runa").get("servers/certificates")[1]
    assert (row["reviewed"], row["team_slug"], row["current_version"]) == (False, "yard", "0.3.0")
    assert Release.objects.get(server__slug="crew-roster").launch[0]["transport"] == "streamable-http"
    items = api("runa").get("servers/certificates/releases/current/items")[1]["items"]
    findings = [finding for item in items for finding in item["findings"]]
    assert findings
    assert {finding["family"] for finding in findings if not finding["known"]} == {"safety"}
    assert all(finding["known"] == (finding["family"] != "safety") for finding in findings)
    approval = api("runa").get(f"by-digest/{Release.objects.get(server__slug='certificates').digest}")[1]
    assert (approval["approved"], approval["releases"][0]["reviewed"]) == (True, False)
    assert verify_ledger().fault == ""


def test_the_next_release_is_judged_without_what_was_known(folder, api):
    folder.adopt()
    snapshot = declared("crew-certificates", "0.3.0")
    said = "Runs stuff on what the crew left behind."
    snapshot["tools"].append({**snapshot["tools"][2], "name": "run_stuff", "description": said})
    body = {"snapshot": snapshot, "version": "0.4.0"}
    _, answer = api("ines").post("servers/certificates/check", body)
    findings = answer["assessment"]["findings"]
    # 16.5: what gives the model orders was adopted, and is a safety finding at the next check.
    assert answer["assessment"]["gates"][0]["gate"] == "safety-findings"
    assert {one["item"] for one in findings if one["family"] == "safety"} == {
        "tool:list_expiring_certificates"
    }
    counting = {one["item"] for one in findings if not one["known"] and one["family"] != "safety"}
    assert counting == {"tool:run_stuff", "server"} or counting == {"tool:run_stuff"}


def test_the_same_again_changes_nothing(folder):
    folder.adopt()
    entries = Entry.objects.count()
    folder.adopt()
    assert (Entry.objects.count(), Release.objects.count()) == (entries, 2)
    (folder.path / "crew-roster.json").write_text(json.dumps(declared("crew-roster", "2.0.0")), "utf-8")
    with pytest.raises(Conflict, match="has releases already"):
        folder.adopt()


@pytest.mark.parametrize(
    ("old", "new", "fault"),
    [
        ('contact = "crew@pellam.example"', "", "contact missing"),
        ('team = "crew"', 'teem = "crew"', "no key 'teem'"),
        ('tags = ["people"]', 'tags = "people"', "tags must be list"),
        ('data_class = "confidential"', 'data_class = "secret"', "no data class"),
        ('version = "0.3.0"', 'version = "newest"', "not SemVer"),
        ("crew-certificates.json", "../outside.json", "outside of the directory"),
        ("crew-certificates.json", "missing.json", "cannot read missing.json"),
        ("servers.crew-roster]", "servers.Crew_Roster]", "cannot name a server"),
        ("[teams]", "[groups]", "no such table"),
    ],
)
def test_a_fault_anywhere_adopts_nothing(folder, old, new, fault):
    with pytest.raises(BadDocument) as raised:
        folder.adopt(OWNERS.replace(old, new))
    assert fault in " ".join(place.detail for place in raised.value.places)
    assert not Server.objects.exclude(slug="berth-planner").exists()


def test_an_unknown_team_adopts_nothing(folder):
    with pytest.raises(Exception, match="no team 'nowhere'"):
        folder.adopt(OWNERS.replace('team = "yard"', 'team = "nowhere"'))
    assert not Server.objects.exclude(slug="berth-planner").exists()
