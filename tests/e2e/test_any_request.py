"""Whatever is sent by the OpenAPI document, right or wrong, is answered, and never by a fault of the service."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Iterator

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, settings

from tallshelf.service.people.actor import SCOPES
from tests.e2e.own_service import OwnService, own_service

_EXAMPLES = 200 if os.environ.get("TALLSHELF_SOAK") else 8
# Signing out and ending tokens would end the run itself.
_SPARED = {"sign_out", "end_token", "change_password", "end_session", "end_sessions", "change_person"}


@pytest.fixture(scope="module")
def service(tmp_path_factory) -> Iterator[OwnService]:
    found = own_service(tmp_path_factory.mktemp("any") / "data")
    scopes = [word for scope in SCOPES for word in ("--scope", scope)]
    found.tokens["pell"] = found.run("admin", "token", "pell", *scopes).split()[-1]
    with found.shelf("pell") as pell:
        pell.enrol("berth-planner", title="Berth planner", team="berths", contact="b@pellam.example")
        tool = {"name": "list_berths", "description": "Lists berths.", "inputSchema": {"type": "object"}}
        pell.submit("berth-planner", {"tools": [tool]}, version="1.0.0")
    yield found
    found.kill()


def test_no_request_makes_the_service_fail(service):
    document = schemathesis.openapi.from_url(f"{service.url}/api/v1/openapi.json", headers=_bearer(service))
    faults: list[str] = []
    answered: Counter[int] = Counter()
    asked = 0
    for found in document.get_all_operations():
        operation = found.ok()
        if operation.definition.raw.get("operationId") in _SPARED:
            continue
        asked += 1

        @settings(
            max_examples=_EXAMPLES,
            database=None,
            derandomize=True,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @_given(operation)
        def send(case):
            answer = case.call(headers=_bearer(service), timeout=20)
            answered[answer.status_code] += 1
            if answer.status_code >= 500:
                faults.append(
                    f"{case.method} {case.formatted_path}: {answer.status_code} for {case.body!r:.300}"
                )

        send()
    assert asked > 60
    assert faults == []
    assert answered[200] > 40 and answered[401] < 20, answered


def _given(operation):
    from hypothesis import given

    return given(case=operation.as_strategy())


def _bearer(service: OwnService) -> dict[str, str]:
    return {"Authorization": f"Bearer {service.tokens['pell']}"}
