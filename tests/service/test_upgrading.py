"""A data directory of before: its ledger verifies, is keyed, and what it does not tell is said so."""

from __future__ import annotations

import json
import lzma
import os
import re
import sqlite3
import subprocess
import sys
from pathlib import Path

import pytest

BEFORE = Path(__file__).parent / "data/before-0.2.0.xz"
ADMIN = [sys.executable, "-m", "tallshelf", "admin"]
ENV = {**os.environ, "DJANGO_SETTINGS_MODULE": "tallshelf.service.settings"}


class Data:
    """A data directory, and the commands that are run over it, each in a process of its own."""

    def __init__(self, path: Path, kept: Path = BEFORE) -> None:
        self.path = path
        (path / "tallshelf.sqlite3").write_bytes(lzma.decompress(kept.read_bytes()))

    def admin(self, *words: str, code: int = 0) -> str:
        done = subprocess.run(
            [*ADMIN, "--data", str(self.path), *words],
            capture_output=True,
            text=True,
            timeout=120,
            check=False,
            env=ENV,
        )
        assert done.returncode == code, done.stdout + done.stderr
        return done.stdout + done.stderr

    def python(self, words: str) -> str:
        program = (
            "from pathlib import Path\n"
            "from tallshelf.run.service_setup import prepare, migrate\n"
            f"prepare(Path({str(self.path)!r})); migrate()\n{words}"
        )
        done = subprocess.run(
            [sys.executable, "-c", program], capture_output=True, text=True, timeout=120, check=False, env=ENV
        )
        assert done.returncode == 0, done.stderr
        return done.stdout


@pytest.fixture
def data(tmp_path):
    return Data(tmp_path)


def test_an_older_ledger_verifies_and_says_what_it_does_not_tell(data):
    said = data.admin("verify-ledger")
    assert "Everybody was entitled to what they did, and all that decides is as it says." in said
    assert "by which facts a request was routed" in said and "carry no MAC" in said
    assert (data.path / "ledger.key").stat().st_mode & 0o777 == 0o600
    assert "keyed already" in data.admin("key-ledger")


def test_exceptions_of_before_are_bound_to_their_text_and_requests_are_assessed_anew(data):
    found = json.loads(
        data.python(
            "import json\n"
            "from tallshelf.service.jobs.actions import run_due\n"
            "from tallshelf.service.verifying import verify\n"
            "from tallshelf.service.catalog.models import StoredWaiver, KnownFinding\n"
            "from tallshelf.service.review.models import Request\n"
            "marked = sorted(Request.objects.exclude(moved=[]).values_list('pk', flat=True))\n"
            "run_due()\n"
            "print(json.dumps({\n"
            "  'marked': marked, 'report': verify().differences + verify().refused,\n"
            "  'waivers': list(StoredWaiver.objects.order_by('pk').values_list('state', flat=True)),\n"
            "  'bound': [len(one.fingerprints) for one in StoredWaiver.objects.order_by('pk')],\n"
            "  'known': [len(one.fingerprint) for one in KnownFinding.objects.all()],\n"
            "  'states': list(Request.objects.order_by('pk').values_list('state', flat=True)),\n"
            "  'voided': [one.sign_offs.filter(voided_at=None).count() for one in Request.objects.order_by('pk')],\n"
            "}))"
        )
    )
    assert found["report"] == []
    assert found["marked"] == [2, 3] and found["states"] == ["done", "open", "open"]
    assert found["voided"][1] == 0, "what was agreed to before is agreed to anew"
    assert found["waivers"] == ["granted", "ended"] and found["bound"] == [1, 0]
    assert set(found["known"]) <= {32}


def test_without_its_key_an_older_backup_is_keyed_by_hand_only(data):
    data.admin("verify-ledger")
    (data.path / "tallshelf.sqlite3").write_bytes(lzma.decompress(BEFORE.read_bytes()))
    for part in ("-wal", "-shm"):
        (data.path / f"tallshelf.sqlite3{part}").unlink(missing_ok=True)
    assert "key-ledger" in data.admin("verify-ledger", code=1)
    assert "keyed from here on" in data.admin("key-ledger")
    assert "Everybody was entitled" in data.admin("verify-ledger")


def test_what_is_kept_for_pages_is_there_after_an_upgrade(data):
    said = data.python(
        "from tallshelf.run.scenario.player import actor\n"
        "from tallshelf.service.catalog import findings\n"
        "from tallshelf.service.catalog.models import FoundOverlap, Server\n"
        "from tallshelf.service.catalog.overlap import worklist\n"
        "from tallshelf.service.review.models import Request\n"
        "ines = actor('ines')\n"
        "rows = worklist.rows_of(ines, list(worklist.work_list(ines)) + list(worklist.work_list(ines, within=True)))\n"
        "print(FoundOverlap.objects.count(), sum(len(one['overlaps']) for one in rows))\n"
        "print(findings.places(ines).count() > 0)\n"
        "print(Server.objects.filter(changed_at='').count(), Request.objects.filter(changed_at='').count())\n"
        "from tallshelf.service.catalog.overlap.stored import KEPT\n"
        "print(Server.objects.exclude(current=None).exclude(kept_profiles__method=KEPT).count())\n"
    )
    overlaps, placed, changed, unread = said.splitlines()
    assert len(set(overlaps.split())) == 1
    assert (placed, changed, unread) == ("True", "0 0", "0")


def schema_of(path: Path) -> dict[str, object]:
    """What a database is made of: columns, keys, indexes by what they are over, triggers; not names or defaults."""
    database = sqlite3.connect(path / "tallshelf.sqlite3")
    made = database.execute(
        "SELECT type, name, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite_%'"
    ).fetchall()
    found: dict[str, object] = {}
    for kind, name, sql in made:
        words = " ".join((sql or "").split())
        if kind == "table":
            columns = database.execute(f"PRAGMA table_info('{name}')").fetchall()
            keys = database.execute(f"PRAGMA foreign_key_list('{name}')").fetchall()
            held = re.findall(
                r'CONSTRAINT "\w+" (?:UNIQUE|CHECK) \([^)]*\)|CHECK \([^)]*\)|AUTOINCREMENT', words
            )
            found[name] = {one[1:4] + one[5:] for one in columns}, {one[2:6] for one in keys}, sorted(held)
        elif kind == "index":
            over = words[words.index(" ON ") :]
            found[over] = "UNIQUE" in words.split(" ON ")[0]
        else:
            found[name] = words
    return found


@pytest.fixture(scope="module")
def new(tmp_path_factory):
    """The tables of a new directory."""
    path = tmp_path_factory.mktemp("new")
    words = [*ADMIN, "--data", str(path), "init", "--steward", "pell"]
    made = subprocess.run(words, capture_output=True, env=ENV)
    assert made.returncode == 0, made.stderr
    return schema_of(path)


_READ_AND_PUBLISH = """
import json
from django.test import Client
from tallshelf.run.scenario import history, player
from tallshelf.service.catalog.models import FoundOverlap, Server
from tallshelf.service.catalog.overlap import catch_up
from tallshelf.service.jobs.actions import run_due
from tallshelf.service.people import actions as people
from tallshelf.service.review import actions as review
from tallshelf.service.review.models import Request
from tallshelf.service.verifying import verify

scopes = ("read", "check", "submit", "sign", "curate", "administer")
_, secret = people.make_token(history.actor("pell"), "t", scopes, 1)
pages = ["shelf", "servers", "findings", "overlaps", "overlap-map", "rulings", "requests", "inbox", "ledger", "style"]
pages += ["ledger/verification", "routing", "routing/versions", "desks", "people", "waivers", "events", "find?q=berth"]
for slug in Server.objects.values_list("slug", flat=True):
    pages += [f"servers/{slug}", f"servers/{slug}/timeline"]
pages += [f"requests/{number}" for number in Request.objects.values_list("pk", flat=True)]

def answers():
    while run_due():
        pass
    headers = {"Authorization": f"Bearer {secret}"}
    return {Client().get(f"/api/v1/{page}", headers=headers, HTTP_HOST="127.0.0.1").status_code for page in pages}

found = answers()
while catch_up():
    pass
opened = Request.objects.filter(state="open").order_by("pk").first()
owners = {"berths": "tomas", "crew": "mira", "fleet-upkeep": "signe"}
owner = history.actor(owners.get(opened.server.team.slug, "jonas"))
gates = {one["gate"] for one in review.reassess(history.actor("ines"), opened.pk).assessment.document["gates"]}
if "safety-findings" in gates:
    state = review.take_back(owner, opened.pk).state
else:
    player.agree(opened)
    state = review.publish(owner, opened.pk).state
print(json.dumps([sorted(found | answers()), FoundOverlap.objects.count() > 0, state, verify().holds]))
"""


@pytest.mark.parametrize(
    ("release", "overlaps", "ends"), [("0.1.0", False, "taken-back"), ("0.2.0", True, "done")]
)
def test_what_a_release_of_ours_left_is_upgraded_read_and_carried_on(release, overlaps, ends, tmp_path, new):
    made = Data(tmp_path, BEFORE.parent / f"made-at-{release}.xz")
    assert "Everybody was entitled to what they did" in made.admin("verify-ledger")
    now = schema_of(tmp_path)
    assert now.keys() == new.keys() and {name: now[name] for name in new if now[name] != new[name]} == {}
    answered, *left = json.loads(made.python(_READ_AND_PUBLISH).splitlines()[-1])
    assert answered == [200] and left == [overlaps, ends, True]


def test_a_directory_of_before_comes_to_the_tables_of_a_new_one(data, new):
    data.admin("verify-ledger")
    now = schema_of(data.path)
    assert now.keys() == new.keys() and len(new) > 100
    assert {name: now[name] for name in new if now[name] != new[name]} == {}
