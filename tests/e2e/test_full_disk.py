"""The real service while no file of it can grow, as on a full disk: it reads, writes nothing, says so, and goes on."""

from __future__ import annotations

import resource
from pathlib import Path

import httpx
import pytest

from tests.e2e.own_service import own_service


@pytest.fixture
def service(tmp_path):
    found = own_service(tmp_path / "data")
    yield found
    found.kill()


def processes(leader):
    """Return the processes of a session: the service leads one of its own."""
    for entry in Path("/proc").glob("[0-9]*"):
        try:
            columns = (entry / "stat").read_text().rpartition(")")[2].split()
        except OSError:
            continue
        if int(columns[3]) == leader:
            yield int(entry.name)


def limit_files(service, size):
    for pid in processes(service.process.pid):
        _, hard = resource.prlimit(pid, resource.RLIMIT_FSIZE)
        resource.prlimit(pid, resource.RLIMIT_FSIZE, (size, hard))


def test_it_reads_on_refuses_to_write_says_why_and_writes_again_when_it_can(service):
    headers = {"Authorization": f"Bearer {service.tokens['tomas']}"}
    with httpx.Client(base_url=service.url, headers=headers, timeout=40) as http:

        def enrol(slug):
            body = {"slug": slug, "title": "T", "team": "berths", "contact": "c@pellam.example"}
            return http.post("/api/v1/servers", json=body)

        assert enrol("before").status_code == 201
        limit_files(service, 0)
        for _ in range(3):
            for path in (
                "servers",
                "servers/before",
                "requests",
                "findings",
                "overlaps",
                "overlap-map",
                "inbox",
            ):
                assert http.get(f"/api/v1/{path}").status_code == 200, path
            refused = enrol("meanwhile")
            assert (refused.status_code, refused.headers["Retry-After"]) == (503, "5"), refused.text
            assert refused.json()["type"] == "urn:tallshelf:problem:unavailable"
            signing_in = httpx.post(f"{service.url}/api/v1/session", json={"username": "x", "password": "y"})
            assert signing_in.status_code == 503
            assert signing_in.headers["Content-Type"] == "application/problem+json"
            ready = http.get("/health/ready")
            assert (ready.status_code, "cannot be written" in ready.json()["reason"]) == (503, True)
            assert http.get("/health/live").status_code == 200
        limit_files(service, resource.RLIM_INFINITY)
        assert enrol("after").status_code == 201
        assert http.get("/health/ready").json() == {"ready": True}
        slugs = [one["slug"] for one in http.get("/api/v1/servers").json()["results"]]
    assert slugs == ["after", "before"]
    service.kill()
    assert "all that decides is as it says" in service.run("admin", "verify-ledger")
