"""``tallshelf publish``: publish a request that everybody agreed to."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.io import IO

DESCRIPTION = """\
Publish an agreed request. The service looks again at what the sign-offs rest on, and captures
HTTP servers once more; when something moved, nothing is published and the request is open again."""
EXAMPLES = "tallshelf publish 118"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("request", type=int, metavar="REQUEST", help="the request's number")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    publication = io.shelf().publish(args.request)
    if args.format == "json":
        io.print_json(publication)
        return 0
    published = f"{publication['server']} {publication['version']}, release {publication['release_digest']}"
    io.print(f"{io.paint.green('Published')} {published}.")
    io.print(f"checkpoint {publication['checkpoint']}")
    io.note("the checkpoint says where the ledger stood, signed; keep it where the service cannot reach")
    io.note(f"next: tallshelf connect {publication['server']}")
    return 0
