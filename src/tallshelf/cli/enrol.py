"""``tallshelf enrol``: put a server on the shelf."""

from __future__ import annotations

import argparse

from tallshelf.cli import options
from tallshelf.cli.io import IO

DESCRIPTION = "Put a server on the shelf, under the team that owns it."
EXAMPLES = """\
tallshelf enrol berth-planner --title 'Berth planner' --team berths --contact berths@pellam.example"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("server", help="the slug: lower-case letters, digits and single hyphens")
    parser.add_argument("--title", required=True, help="the name people know it by")
    parser.add_argument("--team", required=True, help="the owner team")
    parser.add_argument("--contact", required=True, help="whom to ask")
    parser.add_argument("--source", default="", metavar="URL", help="where its source is")
    parser.add_argument(
        "--data-class", default="internal", choices=("public", "internal", "confidential", "restricted")
    )
    parser.add_argument(
        "--use",
        default="",
        choices=("open", "ask"),
        help="whether kits of other teams use it freely, or ask its owners (ask, once it writes or takes credentials)",
    )
    parser.add_argument(
        "--scheme", default="semver", choices=("semver", "calendar"), help="how its releases are numbered"
    )
    parser.add_argument("--tag", action="append", default=[], dest="tags", help="may be given several times")
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    server_detail = io.shelf().enrol(
        args.server,
        title=args.title,
        team=args.team,
        contact=args.contact,
        source_link=args.source,
        data_class=args.data_class,
        tags=args.tags,
        scheme=args.scheme,
        use=args.use,
    )
    if args.format == "json":
        io.print_json(server_detail)
        return 0
    io.print(f"{server_detail['slug']} is on the shelf of {server_detail['team_title']}.")
    io.note(f"next: tallshelf submit {server_detail['slug']} SNAPSHOT --launch LAUNCH")
    return 0
