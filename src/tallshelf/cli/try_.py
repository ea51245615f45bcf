"""``tallshelf try``: call one tool of a running server once."""

from __future__ import annotations

import argparse
import json
from typing import Any

from tallshelf.cli import options
from tallshelf.cli.exits import FINE, GATE_FAILED
from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument

DESCRIPTION = (
    "Call one tool once and show the raw answer, the time it took, and whether it fits the output schema. Arguments\n"
    "that do not fit the input schema are not sent. It ends with 1 when the tool answers with an error, or its result\n"
    "does not fit."
)
EXAMPLES = """\
tallshelf try find_free_berth vessel_length=84 basin=north --stdio 'python berth_planner.py'
tallshelf try find_free_berth '{"vessel_length": 84}' --http http://127.0.0.1:8461/mcp"""


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("tool", help="the tool's name")
    parser.add_argument("arguments", nargs="*", metavar="NAME=VALUE", help="arguments, or one JSON object")
    parser.add_argument(
        "--unchecked", action="store_true", help="send arguments that do not fit the input schema as well"
    )
    options.add_endpoint(parser)
    options.add_format(parser)


def run(args: argparse.Namespace, io: IO) -> int:
    from tallshelf.core.reports import escape
    from tallshelf.protocol import try_tool

    arguments = read_arguments(args.arguments)
    endpoint, _, bounds = options.endpoint_from(args, io)
    result = try_tool(endpoint, args.tool, arguments, bounds=bounds, checked=not args.unchecked)
    failed = result.is_error or result.fits is False
    if args.format == "json":
        io.print_json(
            {
                "format": "tallshelf.call/1",
                "tool": args.tool,
                "arguments": arguments,
                "answer": result.answer,
                "seconds": round(result.seconds, 4),
                "is_error": result.is_error,
                "fits_output_schema": result.fits,
                "fault": result.fault or None,
            }
        )
        return GATE_FAILED if failed else FINE
    paint = io.paint
    io.print(json.dumps(result.answer, indent=2, ensure_ascii=True))
    verdict = {
        True: paint.green("the result fits the output schema"),
        False: paint.red(f"the result does not fit the output schema: {escape(result.fault)}"),
        None: paint.red("the tool answered with an error")
        if result.is_error
        else "there is no output schema to fit",
    }[result.fits]
    io.print(f"\n{escape(args.tool)} answered in {result.seconds * 1000:.0f} ms; {verdict}.")
    return GATE_FAILED if failed else FINE


def read_arguments(words: list[str]) -> dict[str, Any]:
    """Read arguments from one JSON object or from ``name=value``; a value that is JSON is taken as JSON."""
    if len(words) == 1 and words[0].lstrip().startswith("{"):
        try:
            value = json.loads(words[0])
        except ValueError as fault:
            raise BadArgument(f"the arguments are not JSON: {fault}") from None
        if not isinstance(value, dict):
            raise BadArgument("the arguments must be one JSON object")
        return value
    arguments: dict[str, Any] = {}
    for word in words:
        name, equals, text = word.partition("=")
        if not equals or not name:
            raise BadArgument(f"{word!r} is not NAME=VALUE", remedy="Or give one JSON object in quotes.")
        try:
            arguments[name] = json.loads(text)
        except ValueError:
            arguments[name] = text
    return arguments
