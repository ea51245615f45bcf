"""``--oauth`` as one meets it: a browser that opens, a terminal that asks, and what cannot be combined."""

from __future__ import annotations

import argparse
import io as streams
import json
import os
import subprocess
import sys
import urllib.request
import webbrowser
from contextlib import nullcontext

import pytest

from tallshelf.cli import capture
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument, Denied
from tests.protocol.guarded_server import Guarded, Issuer

BROWSER = "import sys, urllib.request; urllib.request.urlopen(sys.argv[1]).read()"


@pytest.fixture
def guarded():
    issuer = Issuer()
    server = Guarded(issuer)
    yield server
    server.close()
    issuer.close()


def run(tmp_path, *words: str, stdin: str = "", **env: str) -> subprocess.CompletedProcess[str]:
    browser = tmp_path / "browser.py"
    browser.write_text(BROWSER, "utf-8")
    names = {"PATH": os.environ["PATH"], "HOME": str(tmp_path), "BROWSER": f"{sys.executable} {browser} %s"}
    return subprocess.run(
        [sys.executable, "-m", "tallshelf", *words],
        env=names | env, input=stdin, capture_output=True, text=True, timeout=60, check=False,
    )  # fmt: skip


def test_a_capture_signs_in_by_browser_and_says_so_and_try_needs_no_other(guarded, tmp_path):
    words = ["--http", guarded.mcp, "--oauth", "--oauth-issuer", guarded.issuer.url]
    found = run(tmp_path, "capture", *words)
    assert found.returncode == 0, found.stderr
    assert "Sign in in your browser" in found.stderr
    taken = json.loads(found.stdout)
    assert taken["tools"][0]["name"] == "read_gauge" and taken["captured"]["as"] == "OAuth"
    assert "token-1" not in found.stdout + found.stderr
    tried = run(tmp_path, "try", "read_gauge", *words, "--format", "json")
    assert tried.returncode == 0 and json.loads(tried.stdout)["answer"]["content"][0]["text"] == "4.2"
    assert "browser" not in tried.stderr
    anew = run(tmp_path, "try", "read_gauge", *words, "--oauth-anew")
    assert "Sign in in your browser" in anew.stderr
    kept = tmp_path / ".config/tallshelf/oauth.json"
    assert kept.stat().st_mode & 0o077 == 0 and guarded.mcp in json.loads(kept.read_text())


def test_without_a_terminal_nobody_agrees_to_a_host(guarded, tmp_path):
    found = run(tmp_path, "capture", "--http", guarded.mcp, "--oauth", stdin="y\n")
    assert found.returncode == 2 and f"--oauth-issuer {guarded.issuer.url}" in found.stderr


def test_without_a_challenge_that_is_met_the_way_is_named(guarded, tmp_path):
    found = run(tmp_path, "capture", "--http", guarded.mcp)
    assert found.returncode == 3 and "sign in by --oauth" in found.stderr


class Keyboard(streams.StringIO):
    def isatty(self) -> bool:
        return True


def capture_by(environ: dict[str, str], stdin: streams.StringIO, *words: str) -> None:
    """Capture in this process; what was said beside the result is left in the environment."""
    parser = argparse.ArgumentParser(allow_abbrev=False)
    capture.add_arguments(parser)
    io = IO(streams.StringIO(), streams.StringIO(), environ, stdin)
    try:
        assert capture.run(parser.parse_args(list(words)), io) == 0
    finally:
        environ["said"] = io.err.getvalue()


@pytest.mark.parametrize(("typed", "agrees"), [("y\n", True), ("YES\n", True), ("n\n", False), ("", False)])
def test_on_a_terminal_one_is_asked_about_a_host(guarded, tmp_path, monkeypatch, typed, agrees):
    monkeypatch.setattr(webbrowser, "open", lambda address: bool(urllib.request.urlopen(address).read()))
    environ = {"HOME": str(tmp_path)}
    with nullcontext() if agrees else pytest.raises(Denied, match="nobody named"):
        capture_by(environ, Keyboard(typed), "--http", guarded.mcp, "--oauth")
    assert f"leads to {guarded.issuer.url}. Is that its issuer? [y/N]" in environ["said"]


def test_a_secret_goes_to_no_host_that_was_only_agreed_to(guarded, tmp_path, monkeypatch):
    monkeypatch.setattr(webbrowser, "open", lambda address: False)
    words = ["--http", guarded.mcp, "--oauth", "--oauth-client", "c", "--oauth-secret-from", "TOKEN"]
    environ = {"HOME": str(tmp_path), "TOKEN": "t"}
    with pytest.raises(Denied, match="nobody named"):
        capture_by(environ, Keyboard("y\n"), *words, "--oauth-issuer", "https://sso.example")
    assert guarded.issuer.asked == [] and "[y/N]" not in environ["said"]


@pytest.mark.parametrize(
    "words",
    [
        ["--stdio", "python x.py", "--oauth"],
        ["--http", "https://x.example/mcp", "--oauth", "--header-from", "authorization=TOKEN"],
        ["--http", "https://x.example/mcp", "--oauth-issuer", "https://y.example"],
        ["--http", "https://x.example/mcp", "--no-browser"],
        ["--http", "https://x.example/mcp", "--oauth", "--oauth-port", "4444"],
        ["--http", "https://x.example/mcp", "--oauth", "--oauth-client", "c", "--oauth-port", "70000"],
        ["--http", "https://x.example/mcp", "--oauth", "--oauth-client", "c", "--oauth-port", "0"],
        ["--http", "https://x.example/mcp", "--oauth", "--oauth-client", "c", "--oauth-secret-from", "TOKEN"],
        ["--http", "http://x.example/mcp", "--oauth"],
        ["--http", "https://x.example/mcp", "--oauth", "--oauth-issuer", "http://y.example"],
        ["--http", "https://x.example/mcp", "--oauth", "--oauth-issuer", "y.example"],
    ],
)
def test_what_does_not_go_together_is_refused_before_anything_is_sent(words, tmp_path):
    with pytest.raises((BadArgument, Denied)):
        capture_by({"HOME": str(tmp_path), "TOKEN": "t"}, streams.StringIO(), *words)
    assert not (tmp_path / ".config").exists()
