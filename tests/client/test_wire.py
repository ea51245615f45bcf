"""The client on a wire of our own: what is repeated, what comes back as which error, and how pages follow."""

from __future__ import annotations

import json

import httpx
import pytest

from tallshelf.client import ProblemError, Shelf, results
from tallshelf.core.errors import (
    Conflict,
    Denied,
    InputsMoved,
    NotFound,
    ServiceFault,
    ShelfError,
    TookTooLong,
    Unreachable,
)


class Service:
    """Answers what it is told to, in order, and keeps what it was asked."""

    def __init__(self, *answers):
        self.answers = list(answers)
        self.asked = []

    def __call__(self, request):
        self.asked.append(request)
        answer = self.answers.pop(0)
        if isinstance(answer, Exception):
            raise answer
        return answer


def ok(body, status=200):
    return httpx.Response(status, json=body)


def problem(code, status, **more):
    body = {"type": f"urn:tallshelf:problem:{code}", "title": "t", "status": status, "detail": "d", **more}
    return httpx.Response(status, json=body, headers={"Content-Type": "application/problem+json"})


@pytest.fixture
def pauses(monkeypatch):
    slept = []
    monkeypatch.setattr("tallshelf.client._wire.time.sleep", slept.append)
    return slept


def shelf(*answers):
    service = Service(*answers)
    return Shelf("http://shelf.example/", "secret", transport=httpx.MockTransport(service)), service


BROKEN = httpx.ConnectError("refused")


@pytest.mark.parametrize(
    "first",
    [BROKEN, httpx.Response(502), httpx.Response(503), httpx.Response(429, headers={"Retry-After": "2"})],
)
def test_what_is_safe_is_repeated_with_one_key(pauses, first):
    asks, service = shelf(first, ok({"slug": "berth-planner"}))
    assert asks.server("berth-planner")["slug"] == "berth-planner"
    assert len(pauses) == 1
    asks, service = shelf(first, ok({"id": 3}, 201))
    assert asks.rule(["a|b"], "distinct", "they differ")["id"] == 3
    keys = {request.headers["Idempotency-Key"] for request in service.asked}
    assert len(service.asked) == 2 and len(keys) == 1


def test_it_waits_as_long_as_it_is_asked_to_and_no_longer_than_five_seconds(pauses):
    busy = [httpx.Response(429, headers={"Retry-After": seconds}) for seconds in ("2", "3600")]
    asks, _ = shelf(*busy, ok({"slug": "a"}))
    asks.server("a")
    assert pauses == [2.0, 5.0]


def test_a_token_is_made_once_and_without_a_key(pauses):
    asks, service = shelf(BROKEN)
    with pytest.raises(Unreachable, match=r"could not reach http://shelf\.example"):
        asks.make_token("ci", ["read"])
    assert len(service.asked) == 1 and "Idempotency-Key" not in service.asked[0].headers and not pauses


def test_it_gives_up_after_three_tries(pauses):
    asks, service = shelf(BROKEN, BROKEN, BROKEN)
    with pytest.raises(Unreachable) as raised:
        asks.me()
    assert len(service.asked) == 3 and "Is the service running" in raised.value.remedy
    asks, _ = shelf(httpx.ReadTimeout("slow"))
    with pytest.raises(TookTooLong):
        asks.me()


@pytest.mark.parametrize(
    ("code", "status", "kind"),
    [
        ("not-found", 404, NotFound),
        ("denied", 403, Denied),
        ("inputs-moved", 409, InputsMoved),
        ("conflict", 409, Conflict),
        ("of-a-later-version", 422, ShelfError),
    ],
)
def test_problems_come_back_as_the_errors_they_are(code, status, kind):
    asks, _ = shelf(problem(code, status, remedy="r", errors=[{"pointer": "/a", "detail": "b"}]))
    with pytest.raises(kind) as raised:
        asks.server("nowhere")
    assert isinstance(raised.value, ProblemError) and raised.value.problem["status"] == status
    assert (str(raised.value), raised.value.remedy, raised.value.places[0].pointer) == ("d", "r", "/a")


@pytest.mark.parametrize("body", [b"<html>", b"[]", b'{"error": 1}'])
def test_what_is_no_problem_document_is_a_fault_of_the_service(body):
    asks, _ = shelf(httpx.Response(500, content=body))
    with pytest.raises(ServiceFault, match="HTTP 500"):
        asks.me()


def test_pages_follow_their_cursors_one_when_it_is_needed():
    first = ok({"results": [{"slug": "a"}, {"slug": "b"}], "next": "x y"})
    asks, service = shelf(first, ok({"results": [{"slug": "c"}], "next": None}))
    found = asks.servers(team="berths")
    assert next(found)["slug"] == "a" and len(service.asked) == 1
    assert [one["slug"] for one in found] == ["b", "c"]
    assert dict(service.asked[1].url.params) == {"team": "berths", "limit": "200", "cursor": "x y"}


def test_names_are_steps_of_a_path_and_the_token_is_sent_to_no_other_place():
    asks, service = shelf(ok({}))
    asks.server("../../people?x=1")
    assert service.asked[0].url.raw_path == b"/api/v1/servers/..%2F..%2Fpeople%3Fx%3D1"
    asks, service = shelf(httpx.Response(302, headers={"Location": "http://other.example/"}))
    with pytest.raises(ServiceFault):
        asks.me()
    assert [request.url.host for request in service.asked] == ["shelf.example"]


def test_lines_are_read_as_they_come():
    lines = b"".join(json.dumps({"number": at}).encode() + b"\n" for at in range(3))
    asks, _ = shelf(httpx.Response(200, content=lines))
    with asks:
        assert [json.loads(line)["number"] for line in asks._lines("GET", "ledger/export")] == [0, 1, 2]


def test_answers_are_records_that_are_read_like_dicts_and_never_changed():
    row = {"version": "1.4.2", "state": "published", "since": "a later member"}
    asks, _ = shelf(ok({"slug": "berth-planner", "title": "Berths", "releases": [row]}))
    server = asks.server("berth-planner")
    assert isinstance(server, results.ServerDetail) and isinstance(server.releases[0], results.ReleaseRow)
    assert server.releases[0].version == server["releases"][0]["version"] == "1.4.2"
    assert server.releases[0].since == "a later member" and {**server}["slug"] == "berth-planner"
    assert json.loads(json.dumps(server)) == server
    for change in (
        lambda: setattr(server, "title", "x"),
        lambda: server.__setitem__("title", "x"),
        lambda: server.update(title="x"),
        lambda: server.pop("title"),
    ):
        with pytest.raises(TypeError, match="is not changed"):
            change()
    with pytest.raises(AttributeError, match="there is no 'colour'; there are releases, slug, title"):
        _ = server.colour
