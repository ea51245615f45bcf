"""``tallshelf watch``: compare running servers with what was approved."""

from __future__ import annotations

import argparse
import shlex
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE, GATE_FAILED, UNREACHABLE
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument, Denied, ShelfError

DESCRIPTION = """\
Capture running servers again and compare each with its approved release. Exits with 1 when one
has drifted, with 3 when one could not be looked at. Without names, every server is looked at. With --report the
service keeps how each was found: its page and kits show it, and whom drift concerns is told."""
EXAMPLES = """\
tallshelf watch --once
tallshelf watch --once tide-tables --environment production
tallshelf watch --once --report"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("servers", nargs="*", metavar="SERVER", help="all published ones by default")
    parser.add_argument("--once", action="store_true", required=True, help="look once and end")
    parser.add_argument("--environment", default="", help="production by default, where there is one")
    parser.add_argument(
        "--start", action="store_true", help="also start servers that run by command (on this machine)"
    )
    parser.add_argument("--report", action="store_true", help="let the service know how each was found")
    parser.add_argument(
        "--time-limit", type=float, default=20.0, metavar="SECONDS", help="for each answer (20)"
    )
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape, table

    shelf = io.shelf()
    slugs = args.servers or [row["slug"] for row in shelf.servers() if row["current_version"]]
    looked = [_look(shelf, slug, args, io) for slug in slugs]
    if args.format == "json":
        io.print_json({"format": "tallshelf.drift/1", "servers": looked})
    else:
        io.print(
            table(
                [(one["server"], one["release"], one["standing"], escape(one["detail"])) for one in looked],
                ("server", "release", "", ""),
            )
        )
    standings = {one["standing"] for one in looked}
    return GATE_FAILED if "drifted" in standings else UNREACHABLE if "not reached" in standings else FINE


def _look(shelf: Any, slug: str, args: argparse.Namespace, io: IO) -> dict[str, Any]:
    from tallshelf.core.changes import compare_snapshots
    from tallshelf.core.reports import change_document
    from tallshelf.protocol import Bounds, capture

    release = shelf.release(slug)
    row: dict[str, Any] = {"server": slug, "release": release["version"], "changes": []}
    record = _record(release["launch"], args.environment)
    if record is None:
        return {**row, "standing": "not checked", "detail": "no launch record for that environment"}
    if "command" in record and not args.start:
        return {**row, "standing": "not checked", "detail": "runs by command; --start starts it here"}
    try:
        endpoint, credential = _endpoint(record, io)
        bounds = Bounds(request_seconds=args.time_limit, total_seconds=args.time_limit * 5)
        snapshot = capture(endpoint, credential=credential, bounds=bounds).snapshot
    except ShelfError as fault:
        unsaid = _report(shelf, slug, record, None, fault.reason) if args.report else ""
        return {**row, "standing": "not reached", "detail": fault.reason + unsaid}
    unsaid = _report(shelf, slug, record, snapshot) if args.report else ""
    if snapshot.digest == release["snapshot_digest"]:
        return {**row, "standing": "as approved", "detail": f"digest {snapshot.digest[7:19]}{unsaid}"}
    terms = options.terms(None, (slug,), io)
    comparison = compare_snapshots(shelf.snapshot(slug, release["version"]), snapshot, terms=terms)
    first = next(
        (f"{change.item}: {change.message}" for change in comparison.changes), "the documents differ"
    )
    more = f", and {len(comparison.changes) - 1} more" if len(comparison.changes) > 1 else ""
    return {
        **row,
        "standing": "drifted",
        "detail": first + more + unsaid,
        "changes": [change_document(change) for change in comparison.changes],
    }


def _report(shelf: Any, slug: str, record: dict[str, Any], found: Any, detail: str = "") -> str:
    """Let the service know how a server was found; return in words why it may not be told by this account."""
    try:
        shelf.report_look(slug, record["environment"], found, detail[:300])
    except Denied:
        return " (not reported: another team's)"
    return ""


def _record(launch: list[dict[str, Any]], environment: str) -> dict[str, Any] | None:
    records = {one["environment"]: one for one in launch}
    chosen = environment or ("production" if "production" in records else next(iter(sorted(records)), ""))
    return records.get(chosen)


def _endpoint(record: dict[str, Any], io: IO) -> tuple[Any, str]:
    """Return the endpoint of a launch record, secrets taken from variables of their names."""
    from tallshelf.protocol import HttpEndpoint, StdioEndpoint

    if "url" in record:
        names = record.get("headers", [])
        headers = {name: options.secret(name.upper().replace("-", "_"), io) for name in names}
        old = record["transport"] == "http+sse"
        endpoint = HttpEndpoint(record["url"], headers, transport="http+sse" if old else "streamable-http")
        return endpoint, ", ".join(names)
    names = record.get("env", [])
    words = shlex.split(record["command"])
    if not words:
        raise BadArgument("the launch record has an empty command")
    env = {name: options.secret(name, io) for name in names}
    return StdioEndpoint(words[0], (*words[1:], *record.get("args", [])), env), ", ".join(names)
