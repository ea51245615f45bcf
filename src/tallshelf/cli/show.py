"""``tallshelf show``: a server, a release, an item or a request."""

from __future__ import annotations

import argparse
import json
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.io import IO
from tallshelf.cli.request_text import day, request_text, short
from tallshelf.core.errors import BadArgument
from tallshelf.core.snapshot import Reference, parse_reference

DESCRIPTION = "Show a server, a release, one item of it, or a request by its number."
EXAMPLES = """\
tallshelf show berth-planner
tallshelf show berth-planner@1.4.2
tallshelf show berth-planner#find_free_berth
tallshelf show tide-tables#get_tide_times --life
tallshelf show berth-planner@1.4.2 --proof > proof.json     (tallshelf ledger verify proof.json)
tallshelf show 118"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "what", metavar="REFERENCE", help="server, server@version, server[@version]#item, or a number"
    )
    parser.add_argument(
        "--life", action="store_true", help="of an item: when it came, how it changed, when it went"
    )
    parser.add_argument(
        "--proof",
        action="store_true",
        help="of a release: print what shows offline that it was approved, by whom, and which bytes it is",
    )
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    shelf = io.shelf()
    found: dict[str, Any]
    if args.what.isascii() and args.what.isdigit():
        found = shelf.request(int(args.what))
        text = request_text(found, io.paint)
        if found["may_sign_at"]:
            io.note(f"next: tallshelf answer {found['id']} --agree, --send-back or --decline")
        elif found["may_publish"]:
            io.note(f"next: tallshelf publish {found['id']}")
    else:
        place = parse_reference(args.what)
        if args.proof:
            release = shelf.release(place.server, place.version or "current")
            io.print_json(shelf.proof(release["digest"]))
            return 0
        if args.life:
            found, text = _life(place, args.what, io)
        elif place.item:
            found = shelf.items(place.server, place.version or "current", place.item)
            text = "\n".join(
                [*_suspended(place, io), *_deprecated(found, place.item, io), _item(found, place.item, io)]
            )
        elif place.version:
            found = shelf.release(place.server, place.version)
            text = _release(found, io)
        else:
            found = shelf.server(place.server)
            text = _server(found, io)
    if args.format == "json":
        io.print_json(found)
    else:
        io.print(text)
    return 0


def _suspended(place: Reference, io: IO) -> list[str]:
    from tallshelf.core.reports import escape

    return [
        io.paint.red(f"suspended since {day(suspension['at'])}: {escape(suspension['reason'])}")
        for suspension in io.shelf().suspensions()
        if suspension["server"] == place.server and suspension["item"] in ("", place.item)
    ]


def _deprecated(document: dict[str, Any], item: str, io: IO) -> list[str]:
    from tallshelf.core.reports import escape

    told = [one["deprecated"] for one in document["items"] if one["item"] == item and one["deprecated"]]
    return [io.paint.amber(escape(one)) for one in told]


def _life(place: Reference, what: str, io: IO) -> tuple[dict[str, Any], str]:
    from tallshelf.core.reports import escape

    if not place.item:
        raise BadArgument(
            f"{what!r} names no item", remedy="Write server#item, such as tide-tables#get_tide_times."
        )
    life = io.shelf().life(place.server, place.item)
    lines = [io.paint.bold(escape(life["item"]))]
    for step in life["steps"]:
        lines.append(f"  {escape(step['version']):<10}  {step['event']:<9}  {step['impact'] or ''}".rstrip())
        lines += [f"      {escape(change['message'])}" for change in step["changes"]]
    return life, "\n".join(lines)


def _server(document: dict[str, Any], io: IO) -> str:
    from tallshelf.core.reports import escape, table

    lines = [
        f"{io.paint.bold(document['slug'])}: {escape(document['title'])}",
        f"owned by {escape(document['team_title'])}, contact {escape(document['contact'])}, "
        f"data class {document['data_class']}",
    ]
    if document["scheme"] != "semver":
        lines.append(f"its releases are numbered by the {document['scheme']} scheme")
    if document["tags"]:
        lines.append(f"tags {', '.join(map(escape, document['tags']))}")
    for suspension in document["suspensions"]:
        what = escape(suspension["item"]) if suspension["item"] else "the whole server"
        whose = f"by {escape(suspension['by'])} on {day(suspension['at'])}"
        lines.append(io.paint.red(f"suspended ({what}) {whose}: {escape(suspension['reason'])}"))
    rows = [
        (
            release["version"] + (" (current)" if release["version"] == document["current_version"] else ""),
            release["state"],
            str(release["item_count"]),
            f"{release['tokens']:,}",
            day(release["published_at"] or release["submitted_at"]),
            short(release["digest"]),
        )
        for release in document["releases"]
    ]
    lines += ["", table(rows, ("version", "state", "items", "tokens", "since (UTC)", "digest"), io.paint)]
    return "\n".join(lines) if rows else "\n".join([*lines[:-1], "no releases yet"])


def _release(document: dict[str, Any], io: IO) -> str:
    from tallshelf.core.reports import escape, table

    rows = [
        (
            "state",
            document["state"] + (f": {escape(document['end_reason'])}" if document["end_reason"] else ""),
        ),
        *(
            (
                "suspended",
                io.paint.red(
                    f"{escape(suspension['item'] or 'the whole server')}: {escape(suspension['reason'])}"
                ),
            )
            for suspension in document["suspensions"]
        ),
        *(
            ("agreed despite", f"{one['gate']}: {escape(one['reason'])} ({escape(one['by'])})")
            for one in document["despite"]
        ),
        *([("not to be used after", day(document["sunset_at"]))] if document["sunset_at"] else []),
        *([("use instead", escape(document["replacement"]))] if document["replacement"] else []),
        ("release digest", document["digest"]),
        ("snapshot digest", document["snapshot_digest"]),
        ("items", f"{document['item_count']}, about {document['tokens']:,} tokens"),
        ("origin", escape(document["origin"])),
        ("submitted", f"{day(document['submitted_at'])} by {escape(document['submitted_by'])}"),
        ("published", day(document["published_at"]) or "not yet"),
        *(
            (
                f"launch, {one['environment']}",
                escape(one.get("url") or " ".join([one["command"], *one.get("args", [])])),
            )
            for one in document["launch"]
        ),
    ]
    return f"{io.paint.bold(document['server'] + '@' + document['version'])}\n{table(rows)}"


def _item(document: dict[str, Any], identity: str, io: IO) -> str:
    from tallshelf.core.reports import escape

    if not document["items"]:
        return f"There is no item {escape(identity)} in that release."
    (item,) = document["items"]
    lines = [
        f"{io.paint.bold(escape(item['item']))}, about {item['tokens']} tokens, digest {short(item['digest'])}"
    ]
    lines += [
        f"  {finding['level']} {finding['rule']}: {escape(finding['message'])}"
        for finding in item["findings"]
    ]
    return "\n".join([*lines, json.dumps(item["declared"], indent=2, ensure_ascii=True)])
