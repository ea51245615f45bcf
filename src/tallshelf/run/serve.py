"""``tallshelf serve``: run the service."""

from __future__ import annotations

import argparse
import os
import shutil
from pathlib import Path

from granian import Granian
from granian.constants import HTTPModes, Interfaces
from granian.http import HTTP1Settings
from granian.log import LogLevels

from tallshelf.cli.io import IO
from tallshelf.core.errors import BadArgument, Unreachable
from tallshelf.run.ports import is_free
from tallshelf.run.service_setup import data_directory, migrate, prepare, require_service
from tallshelf.service import directory

DESCRIPTION = """\
Run the service over a data directory: bring its database up to date, print the address, and
serve until Ctrl-C. Settings come from tallshelf.toml in that directory, and TALLSHELF_…."""
EXAMPLES = """\
tallshelf serve --data /srv/tallshelf
TALLSHELF_PORT=8470 tallshelf serve"""

# Of a worker. Connections that are kept open or that are slow count as well: with fewer, newcomers wait behind them.
_CONNECTIONS = 4096
_HEADERS_MS = 10_000
_STOP_SECONDS = 8


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--data", metavar="DIR", help="the data directory (TALLSHELF_DATA, else ./tallshelf-data)"
    )
    parser.add_argument("--host", help="the address to listen on (127.0.0.1)")
    parser.add_argument("--port", type=int, help="the port (8460)")
    parser.add_argument("--new", action="store_true", help="make an empty service where there is none")


def run(args: argparse.Namespace, io: IO) -> int:
    for name, value in (("TALLSHELF_HOST", args.host), ("TALLSHELF_PORT", args.port)):
        if value is not None:
            os.environ[name] = str(value)
    data = data_directory(args.data)
    if not args.new:
        require_service(data)
    prepare(data)
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
    directory.serve(config.data)
    _clear(config.counts)
    io.print(f"Tall Shelf at http://{config.host}:{config.port}/   (Ctrl-C stops it)")
    io.out.flush()
    Granian(
        "tallshelf.service.asgi:application",
        address=config.host,
        port=config.port,
        interface=Interfaces.ASGI,
        workers=config.workers,
        backpressure=_CONNECTIONS,
        backlog=_CONNECTIONS,
        http=HTTPModes.http1,
        http1_settings=HTTP1Settings(header_read_timeout=_HEADERS_MS),
        workers_kill_timeout=_STOP_SECONDS,
        log_level=LogLevels.warning,
        websockets=False,
    ).serve()
    shutil.rmtree(config.counts, ignore_errors=True)


def _clear(counts: Path) -> None:
    """Forget what the worker processes of an earlier run counted."""
    for old in counts.glob("*.db"):
        old.unlink()
