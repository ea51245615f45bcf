"""A client that a common generator draws from the document, used as it comes against the running demo."""

from __future__ import annotations

import importlib
import json
import subprocess
import sys
from pathlib import Path

import httpx
import pytest

from tallshelf.run.scenario.declarations import declared

pytestmark = pytest.mark.xdist_group("demo")

# What it cannot draw, which is no JSON: answers that come line by line.
NOT_DRAWN = {"application/jsonl", "application/x-ndjson"}


@pytest.fixture(scope="module")
def generated(demo, tmp_path_factory):
    """Draw the client from the document that the service serves, and import it."""
    folder = tmp_path_factory.mktemp("generated")
    (folder / "openapi.json").write_bytes(httpx.get(f"{demo.url}/api/v1/openapi.json").content)
    (folder / "settings.yml").write_text("post_hooks: []\n", "utf-8")
    words = ["generate", "--path", "openapi.json", "--config", "settings.yml", "--meta", "none"]
    command = Path(sys.executable).with_name("openapi-python-client")
    done = subprocess.run(
        [command, *words, "--output-path", "drawn_client"],
        cwd=folder,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stdout + done.stderr
    output = done.stdout + done.stderr
    assert output.count("Cannot parse") == sum(
        f"Unsupported content_type {one}" in output for one in NOT_DRAWN
    )
    sys.path.insert(0, str(folder))
    yield importlib.import_module("drawn_client")
    sys.path.remove(str(folder))


def call(name, part="catalog"):
    return importlib.import_module(f"drawn_client.api.{part}.{name}")


def test_every_call_is_there_and_can_be_imported(generated, demo):
    document = httpx.get(f"{demo.url}/api/v1/openapi.json").json()
    for calls in document["paths"].values():
        for one in calls.values():
            drawn = call(one["operationId"], one["tags"][0])
            assert {"sync_detailed", "asyncio_detailed"} <= vars(drawn).keys()


def test_it_reads_pages_writes_and_understands_problems(generated, demo):
    models = importlib.import_module("drawn_client.models")
    with generated.AuthenticatedClient(base_url=demo.url, token=demo.token("ines")) as client:
        slugs, cursor, list_servers = [], {}, call("list_servers")
        while True:
            page = list_servers.sync(client=client, limit=7, sort=models.ListServersSort.VALUE_3, **cursor)
            slugs += [row.slug for row in page.results]
            if page.next_ is None:
                break
            cursor = {"cursor": page.next_}
        with demo.shelf("ines") as shelf:
            assert slugs == [row.slug for row in shelf.servers(sort=models.ListServersSort.VALUE_3.value)]
        assert len(slugs) > 7

        server = call("get_server").sync("berth-planner", client=client)
        assert {one.version for one in server.releases} >= {"1.4.2"}
        missing = call("get_server").sync_detailed("no-such-server", client=client)
        assert (missing.status_code, missing.parsed.type_) == (404, "urn:tallshelf:problem:not-found")

        comparison = call("compare_releases").sync(
            client=client, old="berth-planner@1.4.1", new="berth-planner@1.4.2"
        )
        assert comparison.to_dict()["format"] == "tallshelf.comparison/1"
        body = models.DryLint.from_dict({"snapshot": declared("berth-planner", "1.5.0")})
        findings = call("lint_snapshot").sync(client=client, body=body)
        assert [one.rule for one in findings.findings] != []
        written = call("lint_snapshot").sync_detailed(client=client, body=body, idempotency_key="drawn")
        again = call("lint_snapshot").sync_detailed(client=client, body=body, idempotency_key="drawn")
        assert json.loads(written.content) == json.loads(again.content)
        assert again.headers["Idempotency-Replayed"] == "true"
