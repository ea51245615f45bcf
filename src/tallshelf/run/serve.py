"""``tallshelf serve``: run the service."""

from __future__ import annotations

import argparse
import os
from pathlib import Path

from granian import Granian
from granian.constants import Interfaces
from granian.log import LogLevels

from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument, Unreachable
from tallshelf.run.ports import is_free
from tallshelf.run.service_setup import data_directory, migrate, prepare

DESCRIPTION = """\
Run the service over a data directory: bring its database up to date, print the address, and
serve until Ctrl-C. Settings come from tallshelf.toml in that directory, and TALLSHELF_…."""
EXAMPLES = """\
tallshelf serve --data /srv/tallshelf
TALLSHELF_PORT=8470 tallshelf serve"""

_THREADS = 4
# Connections that are kept open count as well: with fewer, newcomers wait for ever behind busy ones.
_BACKPRESSURE = 512


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--data", metavar="DIR", help="the data directory (TALLSHELF_DATA, else ./tallshelf-data)"
    )
    parser.add_argument("--host", help="the address to listen on (127.0.0.1)")
    parser.add_argument("--port", type=int, help="the port (8460)")


def run(args: argparse.Namespace, io: IO) -> int:
    for name, value in (("TALLSHELF_HOST", args.host), ("TALLSHELF_PORT", args.port)):
        if value is not None:
            os.environ[name] = str(value)
    prepare(data_directory(args.data))
    migrate()
    serve(io)
    return 0


def serve(io: IO) -> None:
    """Serve with the prepared settings until told to stop."""
    from django.conf import settings

    config = settings.CONFIG
    if not 1 <= config.port <= 65535:
        raise BadArgument(f"{config.port} is not a port")
    if not is_free(config.host, config.port):
        raise Unreachable(
            f"port {config.port} of {config.host} is in use",
            remedy="Stop what listens there, or choose another by --port.",
        )
    _clear_metrics(config.data)
    io.print(f"Tall Shelf at http://{config.host}:{config.port}/   (Ctrl-C stops it)")
    io.out.flush()
    Granian(
        "tallshelf.service.wsgi:application",
        address=config.host,
        port=config.port,
        interface=Interfaces.WSGI,
        workers=config.workers,
        blocking_threads=_THREADS,
        backpressure=_BACKPRESSURE,
        log_level=LogLevels.warning,
        websockets=False,
    ).serve()


def _clear_metrics(data: Path) -> None:
    """Forget what the worker processes of an earlier run counted."""
    for old in (data / "metrics").glob("*.db"):
        old.unlink()
