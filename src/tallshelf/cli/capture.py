"""``tallshelf capture``: take a snapshot of a running tool server."""

from __future__ import annotations

import argparse
import json

from tallshelf.cli import options
from tallshelf.cli.io import IO

DESCRIPTION = "Start or connect to a tool server and write down all that it declares, as received."
EXAMPLES = """\
tallshelf capture --stdio 'python berth_planner.py' -o berth-planner.json
tallshelf capture --http https://fares.pellam.example/mcp --bearer-from FARES_TOKEN -o fares.json
tallshelf capture --http https://gauges.pellam.example/mcp --oauth --no-browser -o gauges.json
tallshelf capture --event-stream http://yard.pellam.example/sse -o yard-slots.json"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    options.add_endpoint(parser)
    parser.add_argument("-o", "--output", metavar="FILE", help="where to write (standard output by default)")


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape
    from tallshelf.core.snapshot import outline
    from tallshelf.protocol import capture

    endpoint, credential, bounds = options.endpoint_from(args, io)
    result = capture(endpoint, credential=credential, bounds=bounds)
    text = json.dumps(result.snapshot.document(), indent=2, ensure_ascii=False)
    if args.output:
        io.write_file(args.output, text + "\n")
    else:
        io.print(text)
    if result.stray_count:
        io.note(f"warning: {result.stray_count} stray lines on stdout were skipped; the first:")
        io.note(f"  {escape(result.stray_lines[0])}")
    if endpoint.transport == "http+sse":
        io.note("warning: the event-stream transport is deprecated in MCP; hosts are dropping it")
    seen = outline(result.snapshot)
    io.note(
        f"captured {escape(seen.server) or 'a server without a name'}: {len(seen.items)} items, "
        f"about {seen.tokens:,} tokens, MCP {result.protocol_version}"
    )
    io.note(f"digest {result.snapshot.digest}")
    if args.output:
        io.note(f"next: tallshelf check {args.output}")
    return 0
