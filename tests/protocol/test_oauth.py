"""Signing in to a tool server: the flow, what a person decides of it, and issuers and servers that are not honest."""

from __future__ import annotations

import json
import stat
import threading
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, urlsplit

import pytest

from tallshelf.core.errors import Denied, ShelfError, TookTooLong, Unreachable
from tallshelf.protocol import Bounds, HttpEndpoint, capture, try_tool
from tallshelf.protocol.oauth import Hosts, KeptTokens, OwnClient, SignIn
from tallshelf.protocol.oauth.callback import Callback
from tests.protocol.guarded_server import Guarded, Issuer


def follow(address: str) -> None:
    """Go where a browser would be sent."""
    with urllib.request.urlopen(address) as page:
        page.read()


class World:
    """A guarded server, its issuer, and somebody who signs in there."""

    def __init__(self, tmp_path: Path) -> None:
        self.issuer = Issuer()
        self.server = Guarded(self.issuer)
        self.file = tmp_path / "kept" / "oauth.json"
        self.opened: list[str] = []
        self.browse: Callable[[str], Any] = follow

    def sign_in(self, named: bool = True, **more: Any) -> SignIn:
        kept = KeptTokens(self.file, self.server.mcp)
        confirm = more.pop("confirm", lambda origin: False)
        hosts = Hosts(
            self.server.mcp,
            named=[self.issuer.url] if named else [],
            known=kept.hosts,
            confirm=confirm,
            keep=kept.keep_host,
        )

        def show(address: str) -> None:
            self.opened.append(address)
            self.browse(address)

        return SignIn(self.server.mcp, hosts, kept, show, **{"patience": 5.0, **more})

    def endpoint(self, **more: Any) -> HttpEndpoint:
        return HttpEndpoint(self.server.mcp, {"X-Own": "for-the-server"}, sign_in=self.sign_in(**more))

    def capture(self, **more: Any) -> Any:
        return capture(self.endpoint(**more), credential="OAuth", bounds=Bounds(request_seconds=5))


@pytest.fixture
def world(tmp_path):
    found = World(tmp_path)
    yield found
    found.issuer.close()
    found.server.close()


def test_one_signs_in_once_and_what_is_kept_is_used_and_renewed(world):
    assert [one.name for one in world.capture().snapshot.items] == ["read_gauge"]
    assert world.issuer.begun["code_challenge_method"] == "S256"
    assert world.issuer.begun["resource"] == world.issuer.forms[0]["resource"] == world.server.mcp
    assert len(world.opened) == 1 and world.server.seen[0] is None
    assert stat.S_IMODE(world.file.stat().st_mode) == 0o600
    assert stat.S_IMODE(world.file.parent.stat().st_mode) == 0o700
    assert try_tool(world.endpoint(), "read_gauge", {}).answer["content"][0]["text"] == "4.2"
    assert len(world.opened) == 1 and world.issuer.asked.count("POST /register") == 1
    kept = json.loads(world.file.read_text())
    kept[world.server.mcp]["expires_at"] = 1.0
    world.file.write_text(json.dumps(kept))
    world.capture()
    assert (len(world.opened), world.issuer.forms[-1]["grant_type"]) == (1, "refresh_token")
    KeptTokens(world.file, world.server.mcp).forget()
    world.capture()
    assert len(world.opened) == 2


def test_no_token_and_no_header_of_the_server_goes_elsewhere(world):
    world.capture()
    kept = world.file.read_text()
    assert "for-the-server" not in kept and repr(world.endpoint()).count("token-") == 0
    assert world.issuer.asked == [
        "GET /.well-known/oauth-authorization-server", "POST /register", "GET /authorize", "POST /token"
    ]  # fmt: skip


def test_a_client_of_ones_own_is_not_registered_and_its_secret_is_sent_to_its_issuer(world):
    world.capture(client=OwnClient("shelf-cli", "s3cret"))
    assert "POST /register" not in world.issuer.asked
    assert (world.issuer.forms[0]["client_id"], world.issuer.forms[0]["client_secret"]) == (
        "shelf-cli",
        "s3cret",
    )
    assert "s3cret" not in repr(world.sign_in(client=OwnClient("shelf-cli", "s3cret")))


def test_a_host_that_nobody_named_is_asked_about_once(world):
    with pytest.raises(Denied, match="leads to") as denied:
        world.capture(named=False)
    assert f"--oauth-issuer {world.issuer.url}" in denied.value.remedy and world.issuer.asked == []
    asked: list[str] = []
    world.capture(named=False, confirm=lambda origin: not asked.append(origin))
    assert asked == [world.issuer.url]
    KeptTokens(world.file, world.server.mcp).keep_host("https://x.example:443")
    world.issuer.tokens.append("another")
    world.capture(named=False)
    assert len(world.opened) == 2


ODD: dict[str, tuple[Callable[[World], Any], type[ShelfError], str, str]] = {
    "the issuer says another name": (
        lambda world: world.issuer.says.update(issuer="https://other.example"),
        Unreachable, "issuer mismatch", "POST /register",
    ),
    "another issuer answered": (
        lambda world: world.issuer.answers.update(iss="https://other.example"),
        Unreachable, "iss mismatch", "POST /token",
    ),
    "the answer does not say whose it is": (
        lambda world: world.issuer.answers.update(iss=""),
        Unreachable, "missing iss", "POST /token",
    ),
    "the token would be of another server": (
        lambda world: world.server.says.update(resource="https://other.example/mcp"),
        Unreachable, "does not match", "GET /.well-known/oauth-authorization-server",
    ),
    "no PKCE": (
        lambda world: world.issuer.says.update(code_challenge_methods_supported=["plain"]),
        Denied, "PKCE", "GET /authorize",
    ),
    "PKCE is not spoken of": (
        lambda world: world.issuer.says.pop("code_challenge_methods_supported"),
        Denied, "PKCE", "GET /authorize",
    ),
    "the page is elsewhere": (
        lambda world: world.issuer.says.update(authorization_endpoint="https://other.example/authorize"),
        Denied, "https://other.example:443, which nobody named", "GET /authorize",
    ),
    "the page is not encrypted": (
        lambda world: world.issuer.says.update(authorization_endpoint="http://other.example/authorize"),
        Denied, "not encrypted", "GET /authorize",
    ),
    "the token is elsewhere": (
        lambda world: world.issuer.says.update(token_endpoint="https://other.example/token"),
        Denied, "https://other.example:443, which nobody named", "POST /token",
    ),
    "registering is elsewhere": (
        lambda world: world.issuer.says.update(registration_endpoint="ftp://other.example/register"),
        Unreachable, "Registration failed", "GET /authorize",
    ),
    "it refuses": (
        lambda world: world.issuer.answers.update(code="", error="access_denied", error_description="Not you."),
        Denied, "access_denied: Not you.", "POST /token",
    ),
}  # fmt: skip


@pytest.mark.parametrize("odd", ODD)
def test_what_is_not_as_it_should_be_ends_the_sign_in_before_more_is_given_away(world, odd):
    change, kind, words, never = ODD[odd]
    change(world)
    with pytest.raises(kind, match=words):
        world.capture()
    assert never not in world.issuer.asked
    assert "tokens" not in (world.file.read_text() if world.file.exists() else "")


class _Staying(urllib.request.HTTPRedirectHandler):
    """Tells where the browser is sent, and does not go there."""

    def http_error_302(self, req: Any, fp: Any, code: int, msg: str, headers: Any) -> Any:
        return fp


def test_an_answer_with_another_state_is_not_taken_and_one_brought_by_hand_is(world):
    refused: list[int] = []
    tried = threading.Event()

    def browse(address: str) -> None:
        (back,) = parse_qs(urlsplit(address).query)["redirect_uri"]
        with pytest.raises(urllib.error.HTTPError) as forged:
            urllib.request.urlopen(f"{back}?code=theirs&state=other")
        refused.append(forged.value.code)
        forged.value.close()
        tried.set()

    def pasted() -> Iterator[str]:
        yield "not an address\n"
        assert tried.wait(5)
        with urllib.request.build_opener(_Staying).open(world.opened[0]) as sent:
            yield sent.headers["Location"]

    world.browse = browse
    lines = pasted()
    world.capture(paste=lambda: next(lines, ""))
    assert refused == [404]


def test_tokens_are_renewed_at_the_issuer_that_gave_them_and_nowhere_else(world):
    world.capture()
    other = Issuer()
    world.server.says["authorization_servers"] = [other.url]
    world.issuer.tokens.append("unknown")  # the kept one is refused: it signs in anew, and is led elsewhere
    world.browse = lambda address: None
    with pytest.raises(TookTooLong):
        world.capture(patience=0.3, confirm=lambda origin: True)
    kept = json.loads(world.file.read_text())
    assert kept[world.server.mcp]["issuer"]["issuer"].rstrip("/") == world.issuer.url
    kept[world.server.mcp]["expires_at"] = 1.0
    world.file.write_text(json.dumps(kept))
    world.capture(patience=0.3, confirm=lambda origin: True)
    assert world.issuer.forms[-1]["grant_type"] == "refresh_token" and other.forms == []
    other.close()


def test_nobody_signs_in(world):
    world.browse = lambda address: None
    with pytest.raises(TookTooLong, match="nobody signed in within"):
        world.capture(patience=0.3)


@pytest.mark.parametrize("server", ["http://tools.example/mcp", "http://10.0.0.1/mcp"])
def test_no_token_is_asked_for_without_encryption(server):
    with pytest.raises(Denied, match="not encrypted"):
        Hosts(server)


@pytest.mark.parametrize(
    ("host", "address", "fine"),
    [
        ("sso.example", "93.184.216.34", True),
        ("sso.example", "10.1.2.3", False),
        ("sso.example", "127.0.0.1", False),
        ("sso.example", "169.254.169.254", False),
        ("sso.example", "::1", False),
        ("tools.example", "10.1.2.3", True),
        ("named.example", "10.1.2.3", True),
    ],
)
def test_private_addresses_are_for_hosts_that_were_named(host, address, fine):
    hosts = Hosts("https://tools.example/mcp", named=["https://named.example"])
    if fine:
        hosts.check_address(host, address)
    else:
        with pytest.raises(Denied, match="private address"):
            hosts.check_address(host, address)


def test_a_port_that_was_registered_beforehand_is_that_one():
    taken = Callback()
    other = Callback(taken.port)
    assert other.port != taken.port
    with pytest.raises(ShelfError, match="cannot be listened on"):
        Callback(taken.port, only=True)
    for one in (taken, other):
        one.close()
