"""``tallshelf submit``: ask to publish a release."""

from __future__ import annotations

import argparse
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import request_text
from tallshelf.core.snapshot import need_version, parse_json, parse_launch, parse_snapshot

DESCRIPTION = """\
Ask to publish a release. Prints the route: which desks must agree, and why each is on it.
The same submission again answers with the same request."""
EXAMPLES = """\
tallshelf submit berth-planner berth-planner.json --launch launch.json
tallshelf submit berth-planner berth-planner.json --version 2.0.0 --request 118    (replaces its snapshot)"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("server", help="the server's slug")
    parser.add_argument("snapshot", metavar="FILE", help="the snapshot's file")
    parser.add_argument("--version", help="the version (as the server declares by default)")
    parser.add_argument(
        "--launch",
        action="append",
        default=[],
        metavar="FILE",
        help="a launch record, or a list of them; may be given several times",
    )
    options.add_breaking(parser)
    parser.add_argument("--note", default="", help="a word to the reviewers")
    parser.add_argument("--request", type=int, metavar="NUMBER", help="replace the snapshot of this request")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    if args.version is not None:
        need_version(args.version)
    snapshot = parse_snapshot(io.read_bytes(args.snapshot))
    launches = [document for path in args.launch for document in read_launches(path, io)]
    request_detail = io.shelf().submit(
        args.server,
        snapshot.document(),
        version=args.version,
        launch=launches,
        note=args.note,
        request=args.request,
        breaking=args.breaking,
    )
    if args.format == "json":
        io.print_json(request_detail)
        return 0
    io.print(request_text(request_detail, io.paint))
    io.note(f"next: the desks above are asked; watch it with tallshelf show {request_detail['id']}")
    return 0


def read_launches(path: str, io: IO) -> list[dict[str, Any]]:
    """Read one launch record, or a list of them, and check each before anything is sent."""
    value = parse_json(io.read_bytes(path))
    documents = value if isinstance(value, list) else [value]
    for document in documents:
        parse_launch(document)
    return documents
