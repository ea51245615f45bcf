"""A backup put back: what would be lost is said first, nobody stays signed in, and what was stopped stays so."""

from __future__ import annotations

import stat
import subprocess
import sys
import tarfile

import httpx
import pytest

from tallshelf.core.errors import SignInNeeded
from tests.e2e.conftest import free_ports_in_a_row
from tests.e2e.own_service import OwnService


def test_what_is_lost_is_said_and_what_was_ended_or_stopped_stays_so(tmp_path):
    service = OwnService(tmp_path / "data", free_ports_in_a_row() + 3)
    service.set_up()
    service.start()
    with service.shelf("tomas") as tomas:
        tomas.enrol("tide-tables", title="Tides", team="berths", contact="b@pellam.example")
    backup = tmp_path / "shelf.sqlite3"
    service.run("admin", "backup", str(backup), "--with-keys")
    for one in (backup, tmp_path / "shelf.sqlite3.keys.tar"):
        assert stat.S_IMODE(one.stat().st_mode) == 0o600
    with tarfile.open(tmp_path / "shelf.sqlite3.keys.tar") as keys:
        assert {"secret.key", "ledger.key"} <= set(keys.getnames())

    # Since the backup: an act, a suspension, and a token that was ended.
    with service.shelf("tomas") as tomas:
        tomas.enrol("dry-dock", title="Dock", team="berths", contact="b@pellam.example")
        tomas.suspend("tide-tables", "It leaks.")
    service.kill()

    refused = restored(service, backup)
    assert refused.returncode == 2
    assert (
        "1 × server-enrolled" in refused.stdout and "tide-tables is suspended and stays so" in refused.stdout
    )
    assert "2 acts that are here are not in" in refused.stderr and "--lose" in refused.stderr
    assert not list((tmp_path / "data").glob("*.part"))

    for number in (1, 2):
        done = restored(service, backup, "--lose")
        assert done.returncode == 0, done.stderr
        assert f"tallshelf.before-restore-{number}.sqlite3" in done.stdout
    assert "All tokens and sign-ins are ended." in done.stdout
    assert "holds" in service.run("admin", "verify-ledger")
    files = [one for one in (tmp_path / "data").iterdir() if one.is_file()]
    assert [one.name for one in files if stat.S_IMODE(one.stat().st_mode) != 0o600] == []

    service.start()
    try:
        with service.shelf("tomas") as tomas, pytest.raises(SignInNeeded):
            tomas.me()
        secret = service.run("admin", "token", "ines", "--scope", "read", "--scope", "curate").split()[-1]
        with httpx.Client(base_url=service.url, headers={"Authorization": f"Bearer {secret}"}) as http:
            rows = {one["slug"]: one for one in http.get("/api/v1/servers").json()["results"]}
            assert rows.keys() == {"tide-tables"} and rows["tide-tables"]["suspended"]
            (entry, *_) = http.get("/api/v1/ledger?event=restored").json()["results"]
            assert entry["body"]["lost"] >= 1
            assert entry["body"]["replaced"] > entry["body"]["backup"]
    finally:
        service.kill()


def restored(service, backup, *more):
    return subprocess.run(
        [sys.executable, "-m", "tallshelf", "admin", "restore", str(backup), *more],
        env=service._environment(),
        capture_output=True,
        text=True,
        timeout=120,
        check=False,
    )
