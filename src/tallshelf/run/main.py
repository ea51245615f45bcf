"""The entry point: finds the command, runs it, and turns errors into one line and an exit code."""

from __future__ import annotations

import contextlib
import os
import sys

from tallshelf import __version__
from tallshelf.cli.registry import COMMANDS

TYPE_CHECKING = False
if TYPE_CHECKING:
    import argparse
    from collections.abc import Sequence
    from typing import Any


def main(argv: Sequence[str] | None = None) -> int:
    """Run one command and return its exit code."""
    if "_ARGCOMPLETE" in os.environ:
        _complete()
    arguments = list(sys.argv[1:] if argv is None else argv)
    command = COMMANDS.get(arguments[0]) if arguments else None
    if command is None:
        return _without_command(arguments)
    from tallshelf.cli.exits import BAD_INPUT, exit_code
    from tallshelf.cli.io import IO
    from tallshelf.core.errors import ShelfError

    io = IO(out=sys.stdout, err=sys.stderr, environ=os.environ)
    _stop_as_by_hand()
    try:
        module = _load(command.module)
        parser = _parser(command.name, module)
        return int(module.run(parser.parse_args(arguments[1:]), io))
    except ShelfError as error:
        _complain(error, command.name)
        return exit_code(error)
    except BrokenPipeError:
        # The reader of our output went away (`| head`); that is no fault.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except KeyboardInterrupt:
        sys.stderr.write("\nstopped\n")
        return BAD_INPUT


def _stop_as_by_hand() -> None:
    """Let SIGTERM and SIGHUP end a command as Ctrl-C does, so that it ends what it started."""
    import signal

    def stop(*_: object) -> None:
        if signal.getsignal(signal.SIGINT) == signal.SIG_IGN:  # as a shell starts what it runs behind itself
            raise KeyboardInterrupt
        os.kill(os.getpid(), signal.SIGINT)

    with contextlib.suppress(ValueError):  # in a thread of somebody's program nobody's signals are taken
        for number in (signal.SIGTERM, signal.SIGHUP):
            if signal.getsignal(number) == signal.SIG_DFL:
                signal.signal(number, stop)


def _complete() -> None:
    """Answer a shell that asks what could come next, and exit; only the command in question is loaded."""
    import argparse

    import argcomplete

    line = os.environ.get("COMP_LINE", "")[: int(os.environ.get("COMP_POINT", "0") or 0)].split()
    asked = line[1] if len(line) > 1 else ""
    parser = argparse.ArgumentParser(prog="tallshelf", allow_abbrev=False)
    commands = parser.add_subparsers()
    for command in COMMANDS.values():
        argument_parser = commands.add_parser(command.name, help=command.summary)
        if command.name == asked:
            _load(command.module).add_arguments(argument_parser)
    argcomplete.autocomplete(parser, always_complete_options=False)


def _load(module: str) -> Any:
    import importlib

    try:
        return importlib.import_module(module)
    except ModuleNotFoundError as missing:
        if (missing.name or "").startswith("tallshelf"):
            raise
        from tallshelf.core.errors import NotInstalled

        raise NotInstalled(
            f"this command needs {missing.name}, which is not installed",
            remedy="Install the service's part: pip install 'tallshelf[service]'",
        ) from None


def _parser(name: str, module: Any) -> argparse.ArgumentParser:
    import argparse

    parser = argparse.ArgumentParser(
        prog=f"tallshelf {name}",
        description=module.DESCRIPTION,
        epilog=f"examples:\n{_indented(module.EXAMPLES)}",
        formatter_class=argparse.RawDescriptionHelpFormatter,
        allow_abbrev=False,
    )
    module.add_arguments(parser)
    return parser


def _indented(text: str) -> str:
    return "\n".join(f"  {line}" for line in text.splitlines())


def _complain(error: Any, command: str) -> None:
    """Say what is wrong and what to do; untrusted text in it is shown escaped."""
    from tallshelf.core.reports import escape

    sys.stderr.write(f"tallshelf {command}: {escape(error.reason)}\n")
    for place in error.places[:10]:
        sys.stderr.write(f"  at {escape(place.pointer) or '/'}: {escape(place.detail)}\n")
    for line in error.remedy.splitlines():
        sys.stderr.write(f"  {escape(line)}\n")


def _without_command(arguments: list[str]) -> int:
    if arguments[:1] == ["--version"]:
        sys.stdout.write(f"tallshelf {__version__}\n")
        return 0
    if not arguments or arguments[0] in ("-h", "--help"):
        sys.stdout.write(_overview())
        return 0 if arguments else 2
    import difflib

    close = difflib.get_close_matches(arguments[0], COMMANDS, 1)
    hint = f"did you mean {close[0]}?" if close else "see tallshelf --help"
    sys.stderr.write(f"tallshelf: there is no command {arguments[0]!r}; {hint}\n")
    return 2


def _overview() -> str:
    lines = ["usage: tallshelf COMMAND …", "", "An internal catalog of approved tool servers (MCP)."]
    group = ""
    for command in COMMANDS.values():
        if command.group != group:
            group = command.group
            lines += ["", f"{group}:"]
        lines.append(f"  {command.name:<10} {command.summary}")
    lines += ["", "tallshelf COMMAND --help explains each. Exit codes: 0 fine, 1 a gate failed,"]
    lines += ["2 wrong usage or bad input, 3 could not reach a server or the service."]
    return "\n".join(lines) + "\n"
