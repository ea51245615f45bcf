"""A terminal that runs commands in this process, against files or the service behind WSGI."""

from __future__ import annotations

import argparse
import importlib
import io as streams
import json
import re
from typing import Any

import httpx
import pytest

from tallshelf.cli.io import IO
from tallshelf.cli.registry import COMMANDS
from tallshelf.client import Shelf
from tests.service.conftest import api, company, published, quick_passwords, submitted  # noqa: F401 - fixtures

HIDDEN = re.compile("[\x00-\x09\x0b-\x1f\x7f-\x9f\u200b-\u200f\u202a-\u202e\u2066-\u2069]")


class Terminal:
    """Runs commands for one account, in a directory of its own."""

    def __init__(self, home: Any, connect: Any = None, **environ: str) -> None:
        self.home = home
        self.connect = connect
        self.environ = {"HOME": str(home), **environ}
        self.notes = ""

    def run(self, command: str, *words: str, code: int = 0, stdin: str = "") -> str:
        out, err = streams.StringIO(), streams.StringIO()
        io = IO(out, err, self.environ, streams.StringIO(stdin), self.connect)
        module = importlib.import_module(COMMANDS[command].module)
        parser = argparse.ArgumentParser(allow_abbrev=False)
        module.add_arguments(parser)
        assert module.run(parser.parse_args(list(words)), io) == code
        self.notes = err.getvalue()
        assert not HIDDEN.search(out.getvalue())
        return out.getvalue()

    def json(self, command: str, *words: str, code: int = 0) -> Any:
        return json.loads(self.run(command, *words, "--format", "json", code=code))

    def file(self, name: str, value: Any) -> str:
        path = self.home / name
        path.write_text(value if isinstance(value, str) else json.dumps(value), "utf-8")
        return str(path)


@pytest.fixture
def at(api, tmp_path):  # noqa: F811
    """A terminal for an account, against the service in this process."""
    from django.core.wsgi import get_wsgi_application

    transport = httpx.WSGITransport(app=get_wsgi_application())

    def make(username: str, *scopes: str) -> Terminal:
        token = api(username, *scopes).headers["Authorization"].removeprefix("Bearer ")
        return Terminal(
            tmp_path,
            lambda url, secret: Shelf(url, secret, transport=transport),
            TALLSHELF_URL="http://localhost",
            TALLSHELF_TOKEN=token,
        )

    return make


@pytest.fixture
def offline(tmp_path):
    """A terminal without a service."""
    return Terminal(tmp_path)
