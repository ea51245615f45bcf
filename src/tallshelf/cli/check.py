"""``tallshelf check``: the whole assessment on one page, with one exit code."""

from __future__ import annotations

import argparse
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE, GATE_FAILED
from tallshelf.cli.io import IO
from tallshelf.cli.submit import read_launches
from tallshelf.core.errors import BadArgument
from tallshelf.core.snapshot import need_version, parse_launches, parse_reference, parse_snapshot

if TYPE_CHECKING:
    from tallshelf.core.assess import Context

DESCRIPTION = """\
Assess a snapshot: changes against a base, findings, overlaps, and the route a request would take.
Exits with 1 when the check does not pass. Nothing is stored anywhere."""
EXAMPLES = """\
tallshelf check berth-planner.json
tallshelf check berth-planner.json --base berth-planner-1.4.2.json --style house.toml
tallshelf check berth-planner.json --base berth-planner --format markdown > comment.md
tallshelf check berth-planner.json --base berth-planner        (asks the service, which also knows the catalog)"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("new", metavar="NEW", help="the snapshot's file")
    parser.add_argument("--base", metavar="REFERENCE", help="a file, or server[@version] to ask the service")
    parser.add_argument(
        "--version", metavar="VERSION", help="the version to submit it as (as declared by default)"
    )
    parser.add_argument(
        "--launch",
        action="append",
        default=[],
        metavar="FILE",
        help="a launch record, or a list of them; may be given several times",
    )
    options.add_breaking(parser)
    parser.add_argument(
        "--scheme",
        choices=("semver", "calendar"),
        help="how a bare file is numbered (the service knows it of its servers)",
    )
    options.add_style(parser)
    options.add_format(parser, "text", "json", "markdown")


def run(args: argparse.Namespace, io: IO) -> int:
    if args.version is not None:
        need_version(args.version)
    launches = [read_launch for path in args.launch for read_launch in read_launches(path, io)] or None
    data = io.read_bytes(args.new)
    snapshot = parse_snapshot(data)
    place = parse_reference(args.base) if args.base else None
    if place is not None and place.server:
        if args.scheme:
            raise BadArgument("the catalog says how its servers are numbered", remedy="Leave --scheme out.")
        if args.style:
            raise BadArgument("the catalog has a house style of its own", remedy="Leave --style out.")
        return _by_service(args, io, place.server, place.version, snapshot.document(), launches)
    if args.breaking and args.scheme != "calendar":
        raise BadArgument("--breaking goes with --scheme calendar", remedy="A SemVer number says it itself.")
    from tallshelf.core.assess import Base, Context, assess
    from tallshelf.core.reports import assessment_document, assessment_markdown, assessment_text

    base = None
    if args.base:
        old, version = options.load(args.base, io)
        base = Base(args.base, version, old)
    context: Context = Context(
        now=datetime.now(UTC),
        version=args.version,
        scheme=args.scheme or "semver",
        breaking=args.breaking,
        base=base,
        launches=None if launches is None else parse_launches(launches),
        style=options.style_of(args.style, io),
    )
    assessment = assess(snapshot, context)
    if args.format == "json":
        io.print_json(assessment_document(assessment))
    elif args.format == "markdown":
        io.print(assessment_markdown(assessment, args.new))
    else:
        io.print(assessment_text(assessment, args.new, io.paint))
        _next(io, passed=assessment.passed)
    return FINE if assessment.passed else GATE_FAILED


def _by_service(
    args: argparse.Namespace,
    io: IO,
    server: str,
    base: str,
    document: dict[str, Any],
    launches: list[dict[str, Any]] | None,
) -> int:
    answer = io.shelf().check(
        server,
        document,
        version=args.version,
        launch=launches,
        base=base or None,
        breaking=args.breaking,
    )
    if args.format == "json":
        io.print_json(answer["assessment"])
    elif args.format == "markdown":
        io.print(answer["markdown"])
    else:
        io.print(answer["text"])
        _next(io, passed=answer["assessment"]["passed"])
    return FINE if answer["assessment"]["passed"] else GATE_FAILED


def _next(io: IO, *, passed: bool) -> None:
    io.note("next: tallshelf submit" if passed else "next: fix what is listed, or ask for a waiver")
