"""What the API promises beside its answers: problems, query parameters, keys, and one ETag."""

from __future__ import annotations

import re

import pytest
from django.test import Client

from tallshelf.core import errors
from tests.service.conftest import submission

STANDS_FOR = {
    "slug": "berth-planner",
    "name": "berth-helper",
    "version": "1.4.2",
    "username": "ines",
    "number": "1",
    "digest": "sha256:" + "0" * 64,
    "item": "tool:list_berths",
    "comment": "1",
    "key": "msg_1",
}
SECRETS = {"secret", "code"}


@pytest.fixture
def document(db):
    return Client().get("/api/v1/openapi.json").json()


def calls(document, method):
    for path, found in document["paths"].items():
        if method in found:
            yield path, found[method]


def filled(path):
    return re.sub(r"\{(\w+)\}", lambda found: STANDS_FOR[found[1]], path).removeprefix("/api/v1/")


def test_query_parameters_that_nobody_knows_are_refused_with_the_nearest(document, api, published):
    published()
    asks = api("ines")
    tried = 0
    for path, call in calls(document, "get"):
        known = [one["name"] for one in call.get("parameters", ()) if one["in"] == "query"]
        if asks.get(filled(path))[0] != 200:
            continue
        tried += 1
        status, problem = asks.get(f"{filled(path)}?zebra=1")
        assert (status, "query parameter 'zebra'" in problem["detail"]) == (400, True), path
        for name in known:
            status, problem = asks.get(f"{filled(path)}?{name}=1")
            assert status == 200 or "query parameter" not in problem["detail"], (path, name, problem)
            status, problem = asks.get(f"{filled(path)}?{name}x=1")
            assert status != 400 or name in problem["remedy"], (path, name, problem)
    assert tried > 25
    status, problem = asks.call("PATCH", "servers/berth-planner?title=x", {})
    assert (status, problem["remedy"]) == (400, "It takes none.")


def test_a_key_works_or_is_refused_on_every_post(document, api, published):
    asks = api("ines")
    asks.headers["Idempotency-Key"] = "one-key"
    for path, call in calls(document, "post"):
        status, problem = asks.post(filled(path), {"no": "such body"})
        refused = isinstance(problem, dict) and "Idempotency-Key does not go" in problem.get("detail", "")
        documented = any(one["name"] == "Idempotency-Key" for one in call.get("parameters", ()))
        if status not in (401, 403, 404):
            assert refused is not documented, (path, status, problem)
        answers = str(call["responses"].get("201", ""))
        name = re.search(r"schemas/(\w+)", answers)
        shape = document["components"]["schemas"].get(name[1], {}) if name else {}
        assert not documented or SECRETS.isdisjoint(shape.get("properties", ())), path


def test_every_call_tells_its_problems_and_no_object_is_untyped(document):
    kinds = {name for name in errors.__all__ if name != "Place"}
    for path, found in document["paths"].items():
        for method, call in found.items():
            answers = {status for status in call["responses"] if status >= "4"}
            assert {"400", "429", "503"} <= answers, (method, path)
            assert "404" in answers or "{" not in path
            assert {} in call.get("security", [{}]) or {"401", "403"} <= answers
    assert len(kinds) > 10

    def untyped(value, at=""):
        if isinstance(value, dict):
            if value.get("type") == "object" and not {"properties", "additionalProperties"} & value.keys():
                yield at
            for key, one in value.items():
                yield from untyped(one, f"{at}/{key}")
        elif isinstance(value, list):
            for number, one in enumerate(value):
                yield from untyped(one, f"{at}/{number}")

    assert list(untyped(document)) == []


def test_each_problem_points_at_a_page_of_its_own(db, api):
    _, problem = api("ines").get("servers/nowhere")
    page = Client().get(problem["help"])
    assert page.status_code == 200 and "urn:tallshelf:problem:not-found" in page.content.decode()
    index = Client().get("/problems").content.decode()
    for name in errors.__all__:
        if name != "Place":
            code = getattr(errors, name).code
            assert f"/problems/{code}" in index and Client().get(f"/problems/{code}").status_code == 200
    assert Client().get("/problems/<script>").status_code == 404


def test_what_get_answers_as_etag_is_what_if_match_takes(company, api, published):
    published()
    asks = api("tomas")
    client = Client()
    address = "/api/v1/servers/berth-planner"

    def read(**headers):
        return client.get(address, headers={**asks.headers, **headers})

    def edited(title, **headers):
        sent = {**asks.headers, **{name.replace("_", "-"): value for name, value in headers.items()}}
        return client.patch(address, {"title": title}, "application/json", headers=sent)

    seen = read().headers["ETag"]
    assert read(**{"If-None-Match": seen}).status_code == 304
    assert asks.post("servers/berth-planner/releases", submission("1.4.3"))[0] == 201
    assert read(**{"If-None-Match": seen}).status_code == 200, "a release came: the copy is old"
    assert edited("Berths", If_Match=seen).status_code == 200, "and yet nobody changed what is edited"
    assert edited("Berths again", If_Match=seen).status_code == 412
    newest = read().headers["ETag"]
    assert edited("Berths again", If_Match=f'"other", W/{newest}').status_code == 200
    assert edited("Anything", If_Match="*").status_code == 200
