"""``tallshelf sign-in``: keep a token for a service."""

from __future__ import annotations

import argparse
import json
import os

from tallshelf.cli import options
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument

DESCRIPTION = "Check a token against a service and keep both in a file that only you can read."
EXAMPLES = """\
tallshelf sign-in http://127.0.0.1:8460 --token-from SHELF_TOKEN
tallshelf sign-in https://shelf.pellam.example --token-from @token.txt"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("url", metavar="URL", help="the service's address")
    parser.add_argument(
        "--token-from",
        metavar="SOURCE",
        required=True,
        help="an environment variable, or a file as @PATH (@- reads standard input)",
    )


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.client import Shelf

    token = io.stdin.readline().strip() if args.token_from == "@-" else options.secret(args.token_from, io)
    if not token:
        raise BadArgument("the token is empty")
    me = (io.connect or Shelf)(args.url, token).me()
    path = io.sign_in_file
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    part = path.with_suffix(".part")
    handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "w", encoding="utf-8") as out:
        json.dump({"url": args.url, "token": token}, out)
    part.replace(path)
    io.print(f"Signed in to {args.url} as {me['username']} ({me['role']}).")
    io.note("next: tallshelf queue")
    return 0
